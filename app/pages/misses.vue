<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import type { Miss, MissDecision } from '~~/core/schemas'
import type { MissFilters } from '~/stores/misses'

useHead({ title: 'Not found · Fides' })
const store = useMissesStore()
const session = useSessionStore()
const route = useRoute()
const { width } = useDisplay()
const hasPane = computed(() => width.value >= 1100)

const STATES = ['open', 'answered', 'noise'] as const
const SORTS = ['visitors', 'last', 'path'] as const
const one = (name: string) => String(route.query[name] ?? '') || undefined
const filters = computed((): MissFilters => ({
  state: STATES.find((state) => state === route.query.state) ?? 'open',
  domain: one('domain'),
  q: one('q'),
  sort: SORTS.find((sort) => sort === route.query.sort),
}))
const { chosen, certain, choose, allChosen, chooseAll, chooseCertain } = useChosenMisses(() => filters.value.state)
const filter = (more: Record<string, string | number | undefined>) =>
  navigateTo({ query: { ...route.query, ...more } }, { replace: true })
watch(
  () => JSON.stringify(filters.value),
  () => {
    chosen.value = new Set()
    void store.list(filters.value)
  },
  { immediate: true },
)
const wanted = computed(() => Number(route.query.miss) || undefined)
const selected = computed(() => wanted.value ?? (hasPane.value ? store.items[0]?.id : undefined))
watch(
  selected,
  (id) => {
    if (id !== undefined) store.read(id).catch(() => void filter({ miss: undefined }))
  },
  { immediate: true },
)
const visibility = useDocumentVisibility()
useIntervalFn(() => {
  if (visibility.value === 'visible' && store.items.length <= 50 && !settling.value) void refresh()
}, 10_000)
async function refresh() {
  await store.list(filters.value)
  if (selected.value !== undefined) await store.read(selected.value).catch(() => undefined)
}

const settling = ref(false)
const toSettle = ref<Miss[]>([])
const given = ref<{ decision: MissDecision; link?: number }>()
function settle(misses: Miss[], decision?: { decision: MissDecision; link?: number }) {
  toSettle.value = misses.slice(0, 200)
  given.value = decision ?? { decision: filters.value.state === 'noise' ? 'open' : 'alias' }
  settling.value = true
}
const settleChosen = () => settle(store.items.filter(({ id }) => chosen.value.has(id)))
async function done() {
  chosen.value = new Set()
  await refresh()
}
function step(by: number) {
  const at = store.items.findIndex(({ id }) => id === selected.value)
  const found = store.items[Math.min(store.items.length - 1, Math.max(0, at + by))]
  if (found) void filter({ miss: found.id })
}
useShortcuts({
  j: () => step(1),
  k: () => step(-1),
  x: () => selected.value !== undefined && choose(selected.value, !chosen.value.has(selected.value)),
  c: () => certain.value.length > 0 && chooseCertain(),
  a: () => session.may('editor') && (chosen.value.size > 0 ? settleChosen() : store.current && settle([store.current])),
})
</script>

<template>
  <div class="page" :class="{ single: !hasPane }">
    <section v-if="hasPane || !wanted" class="list" aria-labelledby="misses-title">
      <header class="head">
        <h1 id="misses-title">Not found</h1>
        <span class="soft summary">Requested addresses that do not exist, and which links were probably meant.</span>
        <NuxtLink to="/docket?lane=misses">Cases</NuxtLink>
      </header>
      <MissTools :filters="filters" :counts="store.counts" @filter="filter" />
      <p v-if="store.cut > 0" class="cut" role="status">
        <StateMark state="doubtful" /> {{ store.cut.toLocaleString('en') }} requests in the last 24 hours were counted
        but not listed, because too many different paths arrived at once. Repeated ones are listed.
      </p>
      <ChosenBar
        :chosen="chosen.size"
        :certain="certain.length"
        @settle="settleChosen"
        @clear="chosen = new Set()"
        @certain="chooseCertain"
      />
      <VAlert v-if="store.problem" type="error" variant="tonal" density="compact" class="ma-3"
        >{{ store.problem }} <VBtn variant="text" @click="refresh">Try again</VBtn></VAlert
      >
      <p v-else-if="store.items.length === 0 && !store.loading" class="soft pa-6">
        {{
          filters.q || filters.domain
            ? 'No requests match these filters. Clear a filter to see more.'
            : filters.state === 'open'
              ? 'Every requested address exists. Mistyped addresses will be listed here, with the links probably meant.'
              : filters.state === 'answered'
                ? 'Settled addresses appear here with the visitors served since.'
                : 'Requests from vulnerability scanners are kept here.'
        }}
      </p>
      <table v-if="store.items.length > 0" class="rows">
        <thead>
          <tr>
            <th>
              <input
                v-if="session.may('editor')"
                type="checkbox"
                :checked="allChosen"
                aria-label="Choose all that are shown"
                @change="chooseAll"
              />
            </th>
            <th>Asked for</th>
            <th>
              {{ filters.state === 'open' ? 'Most likely match' : filters.state === 'noise' ? 'Why' : 'Answered by' }}
            </th>
            <th class="bars">28 days</th>
            <th class="bars">Trend</th>
            <th class="number">{{ filters.state === 'noise' ? 'Requests' : 'Visitors' }}</th>
            <th class="bars">Last</th>
          </tr>
        </thead>
        <tbody>
          <MissRow
            v-for="miss in store.items"
            :key="miss.id"
            :miss="miss"
            :selected="miss.id === selected"
            :chosen="chosen.has(miss.id)"
            @update:chosen="choose(miss.id, $event)"
            @open="filter({ miss: miss.id })"
          />
        </tbody>
      </table>
      <div v-if="store.next" v-intersect="(isIntersecting: boolean) => isIntersecting && store.more()" class="pa-4">
        <VBtn :loading="store.loading" @click="store.more()">Show more</VBtn>
      </div>
    </section>
    <section v-if="hasPane || wanted" class="pane" aria-label="One address">
      <VBtn v-if="!hasPane" variant="text" class="ma-2" @click="filter({ miss: undefined })">Back to all</VBtn>
      <MissView
        v-if="store.current && store.current.id === selected"
        :miss="store.current"
        @decide="settle([store.current], $event)"
      />
    </section>
    <SettleDialog
      :key="toSettle.map(({ id }) => id).join()"
      v-model="settling"
      :misses="toSettle"
      :given="given"
      @done="done"
    />
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 440px;
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
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 10px 14px 2px;
}
.summary {
  flex: 1 1 200px;
  font-size: 13px;
}
.cut {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 4px 12px;
  padding: 6px 10px;
  background: rgb(var(--v-theme-count));
  font-size: 13px;
}
.rows {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 4px 8px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  color: rgb(var(--v-theme-soft));
  font-size: 12px;
  font-weight: 400;
  text-align: left;
}
th input {
  width: 16px;
  height: 16px;
  accent-color: rgb(var(--v-theme-primary));
}
.number {
  text-align: right;
}
@media (max-width: 760px) {
  .bars {
    display: none;
  }
  .rows {
    table-layout: fixed;
  }
  th:first-child {
    width: 36px;
  }
  th.number {
    width: 68px;
  }
}
</style>
