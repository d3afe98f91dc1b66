<script setup lang="ts">
import { computed } from 'vue'
import type { CaseFilters } from '~/stores/docket'
import { visitsADay } from '~/composables/visits-a-day'
import type { Case } from '~~/core/schemas'

const { filters } = defineProps<{ filters: CaseFilters }>()
const emit = defineEmits<{ state: [state: Case['state']] }>()
const docket = useDocketStore()

const STATES = [
  { value: 'open', title: 'Open' },
  { value: 'set-aside', title: 'Set aside' },
  { value: 'settled', title: 'Settled' },
] as const
const summary = computed(() => {
  const lanes = docket.lanes.filter(({ lane }) => !filters.lane || lane === filters.lane)
  const cases = lanes.reduce((sum, lane) => sum + lane.cases, 0)
  const visits = lanes.reduce((sum, lane) => sum + lane.visits, 0)
  const affected = filters.state === 'open' ? ` · ${visitsADay(visits)} visits a day affected` : ''
  return `${cases.toLocaleString('en')} ${cases === 1 ? 'case' : 'cases'}${affected}`
})
</script>

<template>
  <header class="head">
    <h1 id="docket-title">Docket</h1>
    <span class="soft summary" role="status">{{ summary }}</span>
    <VMenu>
      <template #activator="{ props }">
        <VBtn v-bind="props" variant="text" color="primary" class="state"
          >{{ STATES.find(({ value }) => value === filters.state)!.title }} ▾</VBtn
        >
      </template>
      <VList density="compact" class="states">
        <VListItem
          v-for="{ value, title } in STATES"
          :key="value"
          :active="value === filters.state"
          :title="title"
          @click="emit('state', value)"
        />
      </VList>
    </VMenu>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 0 8px;
  padding: 6px 6px 2px 14px;
}
.summary {
  flex: 1 1 0;
  font-size: 13px;
}
.state {
  flex: none;
  padding: 0 8px;
}
</style>
