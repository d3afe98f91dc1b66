<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import { useLive } from '~/composables/useLive'
import { visitsADay } from '~/composables/visits-a-day'
import type { CaseFilters, RemedyGiven } from '~/stores/docket'
import type { Case } from '~~/core/schemas'

useHead({ title: 'Docket · Fides' })
const docket = useDocketStore()
const notice = useNotice()
const { short } = useMoments()
const route = useRoute()
const { width } = useDisplay()
const view = ref<{ apply(): void }>()

const STATES = [
  { value: 'open', title: 'Open' },
  { value: 'set-aside', title: 'Set aside' },
  { value: 'settled', title: 'Settled' },
] as const
const state = computed(() =>
  STATES.some(({ value }) => value === route.query.state) ? (route.query.state as Case['state']) : 'open',
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
const { minute } = useLive(({ cases }) => {
  if (known !== '' && cases !== known) void refresh()
  known = cases
})
const summary = computed(() => {
  const lanes = docket.lanes.filter(({ lane }) => !filters.value.lane || lane === filters.value.lane)
  const cases = lanes.reduce((sum, lane) => sum + lane.cases, 0)
  const visits = lanes.reduce((sum, lane) => sum + lane.visits, 0)
  const word = { open: 'open', 'set-aside': 'set-aside', settled: 'settled' }[state.value]
  const affected = state.value === 'open' ? ` · ${visitsADay(visits)} visits a day affected` : ''
  const live = minute.value === undefined ? '' : ` · ${minute.value.toLocaleString('en')} in the last minute`
  return `${cases} ${word} ${cases === 1 ? 'case' : 'cases'}${affected}${live}`
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
async function decide(work: () => Promise<string | undefined>, undoable = true) {
  try {
    const told = await work()
    if (told) notice.tell(told, undoable ? undo : undefined)
  } catch (error) {
    notice.tell((error as Error).message)
  }
  await refresh()
}
const apply = (remedy: string, given: RemedyGiven) =>
  decide(
    () => docket.apply(docket.current!, remedy, given),
    docket.current!.remedies?.find(({ id }) => id === remedy)?.undoable,
  )
const takeUp = () =>
  decide(async () => {
    await docket.takeUp(docket.current!)
    return 'Taken back up'
  })
const undo = () =>
  decide(async () => {
    const label = await docket.undoLast()
    return label === undefined ? 'There is no decision of yours left to undo.' : `Undone: ${label}`
  }, false)
const { asideOpen, startAside } = useCaseKeys({ selected, view, read, step, undo })
</script>

<template>
  <div class="page" :class="{ single: !hasPane }">
    <section v-if="hasPane || !wanted" class="list" aria-labelledby="docket-title">
      <header class="head">
        <h1 id="docket-title">Docket</h1>
        <span class="soft summary" role="status">{{ summary }}</span>
        <VSelect
          class="state"
          :model-value="state"
          :items="STATES"
          label="Show"
          @update:model-value="filter({ state: $event === 'open' ? undefined : $event })"
        />
      </header>
      <VAlert v-if="docket.problem" type="error" variant="tonal" density="compact" class="ma-3"
        >{{ docket.problem }} <VBtn variant="text" @click="refresh">Try again</VBtn></VAlert
      >
      <div v-else-if="ordered.length === 0 && !docket.loading" class="pa-6">
        <h2 class="mb-2">{{ state === 'open' && !narrowed ? 'Nothing is wrong' : 'No cases here' }}</h2>
        <p class="soft">
          {{
            narrowed
              ? 'No case is like this; drop a filter to see others.'
              : state === 'open'
                ? 'Every open domain and every destination is watched; what goes wrong becomes a case here, with ' +
                  'what to do about it.'
                : 'Cases come here when they are set aside or settled.'
          }}
        </p>
      </div>
      <p v-if="docket.pausedSince" class="paused" role="status">
        <StateMark state="idle" /> Checks of destinations rest since {{ short(docket.pausedSince) }}: this machine
        itself seems cut off, so nobody is called broken.
      </p>
      <CheckBar class="mx-3 my-1" />
      <ScanBar class="mx-3" />
      <CaseFilterBar :lanes="docket.lanes" :filters="filters" @filter="filter" />
      <CaseList :cases="cases" :remarks="remarks" :selected="selected" @select="select" />
    </section>
    <section v-if="hasPane || wanted" class="pane" aria-label="Case">
      <VBtn
        v-if="!hasPane"
        variant="text"
        class="ma-2"
        @click="navigateTo({ query: { ...route.query, case: undefined } })"
        >Back to the docket</VBtn
      >
      <CaseView
        v-if="docket.current && docket.current.id === selected"
        ref="view"
        :found="docket.current"
        :place="place"
        @apply="apply"
        @aside="startAside"
        @up="takeUp"
      />
    </section>
    <SetAsideDialog
      v-if="docket.current"
      v-model="asideOpen"
      :found="docket.current"
      @done="(notice.tell('Set aside', undo), refresh())"
    />
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 400px 1fr;
  height: calc(100dvh - 90px);
}
.single {
  display: block;
  height: auto;
  min-height: calc(100dvh - 90px);
}
.list {
  overflow-y: auto;
  border-right: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.single .list {
  min-height: calc(100dvh - 90px);
  border-right: 0;
}
.pane {
  overflow-y: auto;
  background: rgb(var(--v-theme-background));
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 10px 14px 4px;
}
.paused {
  margin: 0 12px 4px;
  padding: 6px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
  font-size: 13px;
}
.summary {
  flex: 1 1 0;
  font-size: 13px;
}
.state {
  flex: 0 0 112px;
}
</style>
