<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed, onMounted, ref, watch } from 'vue'
import { changeWords } from '~/composables/traffic-words'
import { useLive } from '~/composables/useLive'
import { useTrafficView } from '~/composables/useTrafficView'

useHead({ title: 'Traffic · Fides' })
const traffic = useTrafficStore()
const session = useSessionStore()
const view = useTrafficView()
const { period, by, kind, compare, against, filters, asked } = view
let shown = ''
watch(
  [asked, by],
  () => {
    // The same view a minute later is loaded without a word.
    const now = JSON.stringify([{ ...asked.value, from: 0, to: 0 }, by.value, period.value])
    void traffic.load(asked.value, by.value, { quiet: now === shown })
    shown = now
  },
  { immediate: true, deep: true },
)
onMounted(() => traffic.loadMovers())

// Figures follow visits as they come, though not more often than every few seconds.
const FOLLOW_MS = 6000
let last = 0
const { minute, connected } = useLive(({ links }) => {
  if (Object.keys(links).length === 0 || Date.now() - last < FOLLOW_MS || traffic.loading) return
  last = Date.now()
  void traffic.load(asked.value, by.value, { quiet: true })
})

const told = computed(() => traffic.told)
const table = ref(false)
const day = (at: string, end = false) => {
  const moment = DateTime.fromISO(at, { zone: told.value!.zone }).minus({ milliseconds: end ? 1 : 0 })
  return moment.toFormat(told.value!.step === 'quarter' || told.value!.step === 'hour' ? 'd LLL, HH:mm' : 'd LLL yyyy')
}
const span = computed(() => {
  if (!told.value) return ''
  if (period.value === 'all') return 'All time'
  const [from, to] = [day(told.value.from), day(told.value.to, true)]
  return from === to ? from : `${from} – ${to}`
})
const { day: dayWords } = useMoments()
const comparedWords = computed(() =>
  compare.value === 'own'
    ? `the same number of days from ${dayWords(against.value)}`
    : compare.value === 'year'
      ? 'the same period last year'
      : 'the previous period',
)
const KIND_WORDS = { visit: 'visits', robot: 'requests by robots', preview: 'previews' }
const toneOf = (now: number, before: number) =>
  before === 0 || now === before ? 'soft' : now < before ? 'text-error' : 'text-success'
const number = (value: number) => value.toLocaleString('en')
function narrowStep(at: string) {
  if (!told.value || told.value.step === 'quarter') return
  const start = DateTime.fromISO(at, { zone: told.value.zone })
  const { step } = told.value
  const end = step === 'hour' ? start.plus({ hours: 1 }) : start.plus({ [`${step}s`]: 1 }).minus({ days: 1 })
  const write = (moment: DateTime) => (step === 'hour' ? moment.toISO()! : moment.toISODate()!)
  void view.chooseOwn(write(start), write(end))
}
const printPage = () => window.print()
const TYPES = {
  csv: 'text/csv',
  json: 'application/json',
  sheet: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
}
const NAMES = { csv: 'traffic.csv', json: 'traffic.json', sheet: 'traffic.xlsx' }
async function takeOut(type: keyof typeof TYPES) {
  try {
    const blob = await traffic.file(asked.value, by.value, TYPES[type])
    const link = document.createElement('a')
    link.href = URL.createObjectURL(blob)
    link.download = NAMES[type]
    link.click()
    URL.revokeObjectURL(link.href)
  } catch (error) {
    traffic.problem = (error as Error).message
  }
}
</script>

<template>
  <div class="page">
    <div class="main">
      <p class="print-only">{{ session.session?.organisation.name }}: the visits of its short addresses, by Fides</p>
      <header class="head">
        <h1>Traffic</h1>
        <span v-if="told" role="status">
          {{ span }} · <b>{{ number(told.total) }} {{ KIND_WORDS[kind] }}</b>
          <template v-if="told.people !== null && kind === 'visit'"> by {{ number(told.people) }} people</template>
          <template v-if="told.compared">
            ·
            <span :class="toneOf(told.total, told.compared.total)">{{
              changeWords(told.total, told.compared.total)
            }}</span>
            <template v-if="told.compared.total > 0"> {{ ' ' + comparedWords }}</template>
          </template>
        </span>
        <VSpacer />
        <LiveBadge class="no-print" :minute="minute" :connected="connected" />
      </header>
      <TrafficBar
        :period="period"
        :kind="kind"
        :compare="compare"
        :against="against"
        @period="view.choosePeriod"
        @own="view.chooseOwn"
        @kind="view.chooseKind"
        @compare="view.chooseCompare"
        @against="view.compareWith"
        @file="takeOut"
        @print="printPage"
      />
      <FilterChips :filters="filters" @widen="view.widen" />
      <VAlert v-if="traffic.problem" type="error" variant="tonal" density="compact" role="alert">{{
        traffic.problem
      }}</VAlert>
      <p v-if="told && !told.complete" class="soft">
        With this filter, figures start on {{ day(told.since!) }}: older visits are kept as daily totals only.
      </p>
      <template v-if="told">
        <section class="over-time" aria-label="Visits over time" :aria-busy="traffic.loading">
          <button type="button" class="as-table soft no-print" @click="table = !table">
            {{ table ? 'As a chart' : 'As a table' }}
          </button>
          <SeriesTable v-if="table" :told="told" />
          <TrendChart v-else :told="told" @choose="narrowStep" />
        </section>
        <CountryMap v-if="by === 'country'" :told="told" @narrow="view.narrow('country', $event)" />
        <GroupTable :told="told" :by="by" @by="view.chooseBy" @narrow="view.narrow(by, $event)" />
      </template>
      <VProgressLinear v-else-if="traffic.loading" indeterminate color="primary" aria-label="Counting" />
    </div>
    <aside class="side no-print">
      <section v-if="traffic.hours" aria-labelledby="hours-title">
        <h2 id="hours-title">By hour and weekday</h2>
        <HourGrid :told="traffic.hours" @narrow="view.narrow('hour', $event)" />
      </section>
      <section v-if="traffic.movers" aria-labelledby="movers-title">
        <h2 id="movers-title">Largest changes</h2>
        <MoverList :movers="traffic.movers" />
      </section>
      <section aria-labelledby="counts-title">
        <h2 id="counts-title">How visits are counted</h2>
        <p class="soft small">
          A visit is a GET request that was redirected. People are counted per day: someone who visits on 3 days counts
          3 times.
          <template v-if="told?.repeats"
            >{{ number(told.repeats) }} of these are repeat visits by the same person to the same link within 10
            seconds.</template
          >
          Robots, previews and prefetches are counted apart.
          <NuxtLink to="/settings/privacy">Privacy settings</NuxtLink>
        </p>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  min-height: calc(100dvh - var(--fides-bars));
}
.main {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 14px 20px 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}
.over-time {
  padding: 4px 8px 8px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.as-table {
  display: block;
  min-height: 24px;
  margin-left: auto;
  font-size: 12px;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 24px;
  padding: 14px 18px 40px;
  border-left: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.small {
  font-size: 12px;
}
h2 {
  margin-bottom: 8px;
}
@media (max-width: 1050px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    border-left: 0;
    border-top: 1px solid rgb(var(--v-theme-rule));
  }
}
@media print {
  .page {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
