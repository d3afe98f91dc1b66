<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Case } from '~~/core/schemas'
import type { RemedyGiven } from '~/stores/docket'

const { found, place } = defineProps<{ found: Case; place: string }>()
const emit = defineEmits<{ apply: [remedy: string, given: RemedyGiven]; aside: []; up: [] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
function settled(): string {
  const by = found.settledBy === 'itself' ? ' by itself' : found.settledBy ? ` by ${found.settledBy}` : ''
  return `Settled ${found.settledAt ? short(found.settledAt) : ''}${by}${found.kept ? ', kept as it is' : ''}`
}
const list = ref<{ chosen(): { id: string; given: RemedyGiven } | undefined }>()
/** Whether the remedy chosen can be applied, with all it asks for. */
const applies = ref(false)
const state = computed(() =>
  found.state === 'settled'
    ? settled()
    : found.state === 'set-aside'
      ? `Set aside until ${found.setAsideUntil ? short(found.setAsideUntil) : ''}`
      : `${found.reopenedAt ? 'Back since' : 'Since'} ${short(found.reopenedAt ?? found.openedAt)}`,
)
/** The links a case is about, as far as they are few enough to be asked for together. */
const linkIds = computed(() => found.subjects.flatMap(({ to }) => /^\/links\/(\d+)$/.exec(to)?.[1] ?? []).slice(0, 50))
const cause = computed(() => {
  const count = (found.together - 1).toLocaleString('en')
  return found.together === 2 ? '1 more case has the same cause.' : `${count} more cases have the same cause.`
})
function apply() {
  const chosen = list.value?.chosen()
  if (chosen) emit('apply', chosen.id, chosen.given)
}
defineExpose({ apply })
</script>

<template>
  <article class="view" :aria-label="`${found.name}: ${found.headline}`">
    <header class="head">
      <h2 class="mono name">{{ found.name }}</h2>
      <b :class="`text-${found.severity}`"><StateMark :state="found.severity" /> {{ found.headline }}</b>
      <span class="soft" :title="exact(found.openedAt)">{{ state }}</span>
      <VSpacer />
      <span class="soft">{{ place }}</span>
    </header>
    <p class="sentence">{{ found.sentence }}</p>
    <p v-if="(found.state === 'set-aside' || found.kept) && found.reason" class="soft">“{{ found.reason }}”</p>

    <h2 class="mt-4 mb-2">{{ found.lane === 'targets' ? 'What a signed-out visitor gets' : 'What was seen' }}</h2>
    <ul class="panel evidence">
      <li v-for="(item, index) in found.evidence" :key="index">
        <StateMark :state="item.state" /><span class="mono label">{{ item.label }}</span
        ><span class="mono what">{{ item.text }}</span>
      </li>
    </ul>
    <p class="soft seen" :title="found.reckoning">
      Last seen {{ short(found.seenAt) }}; {{ found.affected }} (28 days{{
        found.together > 1 ? ', all cases of this cause together' : ''
      }}).
      <span v-if="found.remark">A remark: it harms nobody.</span>
      <span v-else>Urgency {{ found.urgency.toLocaleString('en') }}.</span>
      <span class="visually-hidden">{{ found.reckoning }}</span>
    </p>
    <p v-if="found.subjects.length > 0" class="d-flex flex-wrap ga-3 mt-1">
      <NuxtLink v-for="subject in found.subjects" :key="subject.to" :to="subject.to">{{ subject.label }}</NuxtLink>
    </p>

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

    <CaseTrend v-if="linkIds.length > 0" :key="linkIds.join()" :links="linkIds" />

    <RemedyList ref="list" :key="found.id" :remedies="found.remedies ?? []" @applies="applies = $event" />

    <div v-if="found.state !== 'settled' && session.may('editor')" class="d-flex flex-wrap ga-2 mt-4">
      <VBtn v-if="session.may('administrator')" color="primary" variant="flat" :disabled="!applies" @click="apply"
        >Apply remedy <kbd class="mono key">a</kbd></VBtn
      >
      <VBtn v-if="found.state === 'open'" @click="$emit('aside')">Set aside until… <kbd class="mono key">s</kbd></VBtn>
      <VBtn v-else @click="$emit('up')">Take it back up</VBtn>
    </div>
  </article>
</template>

<style scoped>
.view {
  max-width: 900px;
  padding: 14px 20px 32px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
  margin-bottom: 6px;
}
.name {
  font-size: 19px;
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
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  padding: 5px 0;
}
.evidence > li + li {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.evidence .mono {
  overflow-wrap: anywhere;
}
.label {
  flex: 0 1 auto;
  min-width: 220px;
}
.what {
  flex: 1 1 340px;
  min-width: 0;
}
.seen {
  margin-top: 6px;
  font-size: 13px;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
@media (max-width: 700px) {
  .view {
    padding: 12px 12px 24px;
  }
  .label {
    min-width: 0;
  }
}
</style>
