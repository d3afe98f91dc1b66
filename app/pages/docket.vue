<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import { useLive } from '~/composables/useLive'
import { useCaseDecisions } from '~/composables/useCaseDecisions'
import type { CaseFilters } from '~/stores/docket'
import type { Case } from '~~/core/schemas'

useHead({ title: 'Docket · Fides' })
const docket = useDocketStore()
const notice = useNotice()
const { short } = useMoments()
const route = useRoute()
const { width } = useDisplay()
const view = ref<{ apply(): void }>()

const STATES: readonly string[] = ['open', 'set-aside', 'settled']
const state = computed(() =>
  STATES.includes(String(route.query.state)) ? (route.query.state as Case['state']) : 'open',
)
const hasPane = computed(() => width.value >= 1000)
const FILTERS = ['lane', 'domain', 'kind', 'tag', 'owner'] as const
const filters = computed((): CaseFilters => ({
  state: state.value,
  ...Object.fromEntries(FILTERS.map((name) => [name, String(route.query[name] ?? '') || undefined])),
}))
const narrowed = computed(() => FILTERS.some((name) => filters.value[name] !== undefined))
const filter = (more: Partial<Record<(typeof FILTERS)[number] | 'state', string | undefined>>) =>
  navigateTo({ query: { ...route.query, case: undefined, ...more } })
const cases = computed(() => docket.items.filter((item) => !item.remark))
const remarks = computed(() => docket.items.filter((item) => item.remark))
// As they are shown: the most urgent first, remarks behind.
const ordered = computed(() => [...cases.value, ...remarks.value])
const wanted = computed(() => Number(route.query.case) || undefined)
const selected = computed(() => wanted.value ?? (hasPane.value ? ordered.value[0]?.id : undefined))
// Cases are read anew when they are told to have changed; without a word from the desk, now and then.
let known = ''
useLive(({ cases }) => {
  if (known !== '' && cases !== known) void refresh()
  known = cases
})
const place = computed(() => {
  for (const [word, items] of [
    ['', cases.value],
    ['remark ', remarks.value],
  ] as const) {
    const index = items.findIndex((item) => item.id === selected.value)
    if (index >= 0) return `${word}${index + 1} of ${items.length}`
  }
  return ''
})

watch(
  () => JSON.stringify(filters.value),
  () => docket.list(filters.value),
  { immediate: true },
)
watch(selected, (id) => id && read(id), { immediate: true })
const visibility = useDocumentVisibility()
useIntervalFn(() => visibility.value === 'visible' && refresh(), 15_000)
async function refresh() {
  await docket.list(filters.value)
  if (selected.value && !asideOpen.value) await read(selected.value)
}
async function read(id: number) {
  try {
    await docket.read(id)
  } catch (error) {
    if (error instanceof ApiProblem && error.status === 404)
      await navigateTo({ query: { ...route.query, case: undefined } }, { replace: true })
  }
}

const select = (found: Case) => navigateTo({ query: { ...route.query, case: found.id } }, { replace: hasPane.value })
function step(by: number) {
  const at = ordered.value.findIndex((item) => item.id === selected.value)
  const found = ordered.value[Math.min(ordered.value.length - 1, Math.max(0, at + by))]
  if (found) void select(found)
}
const { busy, apply, aside, takeUp, undo } = useCaseDecisions({ ordered, hasPane, refresh })
useShortcuts({ m: () => navigateTo('/morning-round') })
const { asideOpen, startAside } = useCaseKeys({ selected, view, read, step, undo })
</script>

<template>
  <div class="page" :class="{ single: !hasPane }">
    <section v-if="hasPane || !wanted" class="list" aria-labelledby="docket-title">
      <DocketHead :filters="filters" @state="filter({ state: $event === 'open' ? undefined : $event })" />
      <VAlert v-if="docket.problem" type="error" class="ma-3"
        >{{ docket.problem }} <VBtn variant="text" @click="refresh">Try again</VBtn></VAlert
      >
      <div v-else-if="ordered.length === 0 && !docket.loading" class="pa-6">
        <h2 class="mb-2">{{ state === 'open' && !narrowed ? 'No open cases' : 'No cases' }}</h2>
        <p class="soft">
          {{
            narrowed
              ? 'No case matches these filters. Remove one to see others.'
              : state === 'open'
                ? 'Fides watches every open domain and every destination. What goes wrong becomes a case here, with ' +
                  'remedies.'
                : 'Cases appear here when they are set aside or settled.'
          }}
        </p>
      </div>
      <p v-if="docket.pausedSince" class="paused" role="status">
        <StateMark state="idle" /> Destination checks are paused since {{ short(docket.pausedSince) }}: this machine
        seems to be offline, so no destination is judged.
      </p>
      <CaseFilterBar :lanes="docket.lanes" :filters="filters" @filter="filter" />
      <RoundBanner v-if="state === 'open' && !narrowed" />
      <div v-if="ordered.length === 0 && docket.loading && !docket.problem" class="skeleton" aria-hidden="true">
        <div v-for="row in 10" :key="row" />
      </div>
      <CaseList :cases="cases" :remarks="remarks" :selected="selected" @select="select" />
      <template v-if="ordered.length > 0 || !docket.loading">
        <CheckBar class="mx-3 my-1" />
        <ScanBar class="mx-3 mb-3" />
      </template>
    </section>
    <section v-if="hasPane || wanted" class="pane" aria-label="Case">
      <VBtn
        v-if="!hasPane"
        variant="text"
        class="ma-1"
        @click="navigateTo({ query: { ...route.query, case: undefined } })"
        >‹ Docket</VBtn
      >
      <CaseView
        v-if="docket.current && docket.current.id === selected"
        ref="view"
        :found="docket.current"
        :place="place"
        :busy="busy"
        @apply="apply"
        @nothing="notice.tell($event)"
        @aside="startAside"
        @up="takeUp"
      />
    </section>
    <SetAsideDialog
      v-if="docket.current"
      :key="docket.current.id"
      v-model="asideOpen"
      :found="docket.current"
      @done="aside"
    />
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: minmax(360px, 436px) minmax(0, 1fr);
  height: calc(100dvh - var(--fides-bars));
}
.single {
  display: block;
  height: auto;
  min-height: calc(100dvh - var(--fides-bars));
}
.list {
  overflow-y: auto;
  border-right: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.single .list {
  min-height: calc(100dvh - var(--fides-bars));
  border-right: 0;
}
.pane {
  overflow-y: auto;
  background: rgb(var(--v-theme-background));
}
.paused {
  margin: 0 12px 4px;
  padding: 6px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
  font-size: 13px;
}
.skeleton > div {
  height: 50px;
  margin: 0 14px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  background: linear-gradient(rgb(var(--v-theme-count)) 0 0) 0 50% / 60% 14px no-repeat;
}
</style>
