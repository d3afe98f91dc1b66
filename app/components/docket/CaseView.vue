<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Case } from '~~/core/schemas'
import type { AbleRemedy, RemedyGiven } from '~/stores/docket'

const { found, place, busy = false } = defineProps<{ found: Case; place: string; busy?: boolean }>()
const emit = defineEmits<{ apply: [remedy: string, given: RemedyGiven]; aside: []; up: []; nothing: [why: string] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
function settled(): string {
  const by = found.settledBy === 'itself' ? ' automatically' : found.settledBy ? ` by ${found.settledBy}` : ''
  return `Settled ${found.settledAt ? short(found.settledAt) : ''}${by}${found.kept ? ', accepted as is' : ''}`
}
const list = ref<{ chosen(): { id: string; given: RemedyGiven } | undefined }>()
/** Whether the chosen remedy can be applied as it is filled in, and what that means. */
const able = ref<AbleRemedy>({ applies: false, to: null, undoable: false, leads: false })
const state = computed(() =>
  found.state === 'settled'
    ? settled()
    : found.state === 'set-aside'
      ? `Set aside until ${found.setAsideUntil ? short(found.setAsideUntil) : ''}`
      : `${found.reopenedAt ? 'Reopened' : 'Since'} ${short(found.reopenedAt ?? found.openedAt)}`,
)
/** The links a case is about, as far as they are few enough to be asked for together. */
const linkIds = computed(() => found.subjects.flatMap(({ to }) => /^\/links\/(\d+)$/.exec(to)?.[1] ?? []).slice(0, 50))
/** Remedies being tried, or tried without success: nothing to choose. */
const tellings = computed(() => (found.remedies ?? []).filter(({ applies, to }) => !applies && to === null))
const evidenceTitle = computed(() => (found.lane === 'targets' ? 'What visitors get' : 'Evidence'))
/** The short address a case is about, where it is about one: the trace can follow it. */
const traced = computed(() =>
  ['targets', 'misses'].includes(found.lane) && /^[^\s/]+\/\S+$/.test(found.name) ? found.name : '',
)
const cause = computed(() => {
  const count = (found.together - 1).toLocaleString('en')
  return found.together === 2 ? '1 more case has the same cause.' : `${count} more cases have the same cause.`
})
/** Applies the remedy, opens the page where it is done, or says what is missing. */
function apply() {
  const chosen = list.value?.chosen()
  if (chosen) return emit('apply', chosen.id, chosen.given)
  if (able.value.to !== null) return navigateTo(able.value.to)
  emit(
    'nothing',
    found.state === 'settled'
      ? 'This case is settled.'
      : found.remedies?.length
        ? 'Fill in what this remedy needs first.'
        : 'Fides has no remedy for this case. Set it aside, or open the link.',
  )
}
defineExpose({ apply })
</script>

<template>
  <article class="view" :aria-label="`${found.name}: ${found.headline}`">
    <header class="head">
      <h2 class="mono name">{{ found.name }}</h2>
      <b :class="`text-${found.severity}`"><StateMark :state="found.severity" /> {{ found.headline }}</b>
      <VSpacer />
      <span class="soft place" :title="exact(found.openedAt)"
        >{{ state }}<template v-if="place"> · {{ place }}</template></span
      >
    </header>
    <p class="sentence">{{ found.sentence }}</p>
    <p v-if="(found.state === 'set-aside' || found.kept) && found.reason" class="soft">“{{ found.reason }}”</p>

    <div class="seen">
      <section class="evidence-part" :aria-label="evidenceTitle">
        <h3>{{ evidenceTitle }}</h3>
        <ul class="panel evidence">
          <li v-for="(item, index) in found.evidence" :key="index">
            <StateMark :state="item.state" />
            <div>
              <span class="mono label">{{ item.label }}</span>
              <span class="mono">{{ item.text }}</span>
            </div>
          </li>
        </ul>
      </section>
      <CaseTrend v-if="linkIds.length > 0" :key="linkIds.join()" :links="linkIds" class="trend-part" />
    </div>

    <RemedyList ref="list" :key="found.id" :remedies="found.remedies ?? []" @able="able = $event" />

    <div v-if="found.state !== 'settled' && session.may('editor')" class="acts">
      <template v-if="session.may('administrator')">
        <VBtn v-if="able.to !== null && !able.applies" color="primary" variant="flat" :to="able.to"
          >Go to the remedy <kbd class="mono key">a</kbd></VBtn
        >
        <VBtn
          v-else-if="found.remedies?.length"
          color="primary"
          variant="flat"
          :disabled="!able.applies"
          :loading="busy"
          @click="apply"
          >Apply remedy <kbd class="mono key">a</kbd></VBtn
        >
      </template>
      <VBtn v-if="found.state === 'open'" @click="$emit('aside')">Set aside… <kbd class="mono key">s</kbd></VBtn>
      <VBtn v-else @click="$emit('up')">Reopen</VBtn>
      <NuxtLink v-if="traced" :to="{ path: '/trace', query: { address: traced } }" class="soft">Trace</NuxtLink>
      <span v-if="able.applies" class="soft"
        ><template v-if="able.leads">Takes effect immediately. </template
        ><template v-if="able.undoable">Can be undone from the ledger.</template></span
      >
    </div>

    <p v-for="told in tellings" :key="told.id" class="soft told">
      {{ told.title }}: {{ told.sentence }}
      <LongAddress v-if="told.destination" :address="told.destination" wrap />
    </p>

    <footer class="foot soft">
      <span v-if="found.remark">A remark: no visits affected.</span>
      <span v-else :title="found.reckoning">Urgency: {{ found.reckoning }}</span>
      <span>Last seen {{ short(found.seenAt) }}</span>
      <span
        >{{ found.affected }} (28 days<template v-if="found.together > 1">, all cases of this cause</template>)</span
      >
      <NuxtLink v-for="subject in found.subjects" :key="subject.to" :to="subject.to">{{ subject.label }}</NuxtLink>
    </footer>

    <details v-if="found.others.length > 0" class="mt-4">
      <summary>
        <b>{{ cause }}</b> <span class="soft">Setting one aside sets all of them aside.</span>
      </summary>
      <ul class="others">
        <li v-for="other in found.others" :key="other.id">
          <NuxtLink class="mono" :to="{ path: '/docket', query: { case: other.id } }">{{ other.name }}</NuxtLink>
        </li>
      </ul>
    </details>
  </article>
</template>

<style scoped>
.view {
  max-width: 1100px;
  padding: 14px 20px 32px;
  container: case / inline-size;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
  margin-bottom: 4px;
}
.name {
  font-size: 19px;
  overflow-wrap: anywhere;
}
.place {
  font-size: 13px;
}
.seen {
  display: grid;
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
  margin: 10px 0 14px;
}
.evidence-part:only-child {
  grid-column: 1 / -1;
}
.told {
  margin-top: 8px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
  position: sticky;
  bottom: 0;
  margin-top: 6px;
  padding: 8px 0;
  background: rgb(var(--v-theme-background));
  font-size: 13px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  margin-top: 18px;
  padding-top: 10px;
  border-top: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
}
.others {
  margin: 6px 0 0;
  padding: 0;
  columns: 320px;
  list-style: none;
}
.others > li {
  padding: 3px 0;
  overflow-wrap: anywhere;
}
.panel {
  margin: 0;
  padding: 4px 14px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
  list-style: none;
}
.evidence > li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 2px 10px;
  padding: 4px 0;
}
.evidence > li + li {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.evidence .mono {
  overflow-wrap: anywhere;
}
.label {
  margin-right: 10px;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
@container case (max-width: 700px) {
  .seen {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 700px) {
  .view {
    padding: 12px 12px 24px;
  }
}
</style>
