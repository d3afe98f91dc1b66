<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { visitsADay } from '~/composables/lanes'
import type { Case } from '~~/core/schemas'

const { found, place } = defineProps<{ found: Case; place: string }>()
const emit = defineEmits<{ apply: [number: number, given: { reason?: string; slug?: string }]; aside: []; up: [] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
const chosen = ref(1)
// The remedy that keeps most and can be applied from here comes first to hand.
watch(
  () => found.id,
  () => (chosen.value = Math.max(1, (found.remedies ?? []).findIndex((remedy) => remedy.applies) + 1)),
  { immediate: true },
)
const remedies = computed(() => found.remedies ?? [])
const remedy = computed(() => remedies.value[chosen.value - 1])
const name = computed(() => (found.lane === 'conflicts' ? found.subject : (found.domain?.host ?? found.subject)))
// What is told of a link stands in the same order as the links.
const labelOf = (id: number) =>
  found.kind === 'loop'
    ? `Link ${id}`
    : (found.evidence[found.links.indexOf(id) + (found.kind === 'hidden' ? found.rules.length : 0)]?.label ??
      `Link ${id}`)
const reason = ref('')
const slug = ref('')
watch(
  [() => found.id, () => chosen.value, () => remedy.value?.proposed],
  () => {
    slug.value = remedy.value?.proposed ?? ''
  },
  { immediate: true },
)
watch(
  () => found.id,
  () => (reason.value = ''),
)
const applies = computed(
  () =>
    remedy.value?.applies === true &&
    (!remedy.value.asks.includes('reason') || reason.value.trim() !== '') &&
    (!remedy.value.asks.includes('slug') || slug.value.trim() !== ''),
)
const state = computed(() =>
  found.state === 'settled'
    ? `Settled ${found.settledAt ? short(found.settledAt) : ''}${found.settledBy === 'itself' ? ' by itself' : found.settledBy ? ` by ${found.settledBy}` : ''}${found.kept ? ', kept as it is' : ''}`
    : found.state === 'set-aside'
      ? `Set aside until ${found.setAsideUntil ? short(found.setAsideUntil) : ''}`
      : `${found.reopenedAt ? 'Back since' : 'Since'} ${short(found.reopenedAt ?? found.openedAt)}`,
)
const apply = () =>
  applies.value &&
  emit('apply', chosen.value, {
    ...(remedy.value!.asks.includes('slug') && { slug: slug.value.trim() }),
    ...(reason.value.trim() && remedy.value!.asks.includes('reason') && { reason: reason.value.trim() }),
  })
defineExpose({ apply })
</script>

<template>
  <article class="view" :aria-label="`${name}: ${found.headline}`">
    <header class="head">
      <h2 class="mono name">{{ name }}</h2>
      <b :class="`text-${found.severity}`"><StateMark :state="found.severity" /> {{ found.headline }}</b>
      <span class="soft" :title="exact(found.openedAt)">{{ state }}</span>
      <VSpacer />
      <span class="soft">{{ place }}</span>
    </header>
    <p class="sentence">{{ found.sentence }}</p>
    <p v-if="(found.state === 'set-aside' || found.kept) && found.reason" class="soft">“{{ found.reason }}”</p>

    <h2 class="mt-4 mb-2">What was seen</h2>
    <ul class="panel evidence">
      <li v-for="(item, index) in found.evidence" :key="index">
        <StateMark :state="item.state" /><span class="mono label">{{ item.label }}</span
        ><span class="mono what">{{ item.text }}</span>
      </li>
    </ul>
    <p class="soft seen">
      Last seen {{ short(found.seenAt) }}; {{ visitsADay(found.impact) }} visits a day
      {{ found.lane === 'conflicts' ? 'are affected' : `go through ${found.domain?.host ?? 'it'}` }} (28 days).
    </p>
    <p v-if="found.lane === 'conflicts'" class="d-flex flex-wrap ga-3 mt-1">
      <NuxtLink v-for="id in found.links.slice(0, 4)" :key="id" :to="`/links/${id}`">{{ labelOf(id) }}</NuxtLink>
      <NuxtLink v-if="found.rules.length > 0 && found.domain" :to="`/domains/${found.domain.id}?tab=rules`"
        >The rules of {{ found.domain.host }}</NuxtLink
      >
    </p>

    <template v-if="remedies.length > 0">
      <h2 id="remedies-title" class="mt-4 mb-2">Remedies</h2>
      <div role="radiogroup" aria-labelledby="remedies-title" class="remedies">
        <label v-for="(offer, index) in remedies" :key="index" class="remedy" :class="{ chosen: chosen === index + 1 }">
          <input v-model="chosen" type="radio" name="remedy" :value="index + 1" />
          <span class="text">
            <b>{{ offer.title }}</b>
            <span>{{ offer.sentence }} <NuxtLink v-if="offer.to" :to="offer.to">Go there</NuxtLink></span>
            <span v-for="record in offer.records" :key="record.name + record.type + record.data" class="mono record"
              >{{ record.name }} {{ record.ttl }} {{ record.type }} {{ record.data }}</span
            >
            <span v-if="offer.verified" class="soft"><StateMark state="sound" /> {{ offer.verified }}</span>
            <span v-if="chosen === index + 1 && offer.asks.length > 0" class="asks">
              <VTextField
                v-if="offer.asks.includes('slug')"
                v-model="slug"
                class="mono"
                label="New slug"
                maxlength="200"
                density="compact"
              />
              <VTextField
                v-if="offer.asks.includes('reason')"
                v-model="reason"
                label="Why"
                maxlength="500"
                density="compact"
              />
            </span>
          </span>
          <span v-if="offer.visitsKept > 0" class="kept"
            ><b>{{ visitsADay(offer.visitsKept) }}</b
            ><span class="soft">visits/day kept</span></span
          >
        </label>
      </div>
    </template>

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
.remedies {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.remedy {
  display: flex;
  gap: 12px;
  padding: 11px 12px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
  cursor: pointer;
}
.remedy.chosen {
  border-color: rgb(var(--v-theme-primary));
  box-shadow: inset 0 0 0 1px rgb(var(--v-theme-primary));
}
.remedy input {
  flex: none;
  width: 16px;
  height: 16px;
  margin-top: 2px;
  accent-color: rgb(var(--v-theme-primary));
}
.text {
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
}
.record {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.asks {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 420px;
  margin-top: 6px;
}
.kept {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
}
.kept > .soft {
  font-size: 12px;
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
