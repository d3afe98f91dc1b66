<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed } from 'vue'
import { LANES } from '~~/core/docket'
import type { CaseList } from '~~/core/schemas'
import type { CaseFilters } from '~/stores/docket'

const { lanes, filters } = defineProps<{ lanes: CaseList['lanes']; filters: CaseFilters }>()
defineEmits<{ filter: [more: Partial<Record<'lane' | 'domain' | 'kind' | 'tag' | 'owner', string | undefined>>] }>()
const domains = useDomainsStore()
const shown = computed(() =>
  Object.entries(LANES)
    .map(([lane, title]) => ({ lane, title, cases: lanes.find((one) => one.lane === lane)?.cases ?? 0 }))
    .filter(({ lane, cases }) => cases > 0 || filters.lane === lane),
)
/** Filters that came with the address, each to be dropped. */
const chips = computed(() =>
  (
    [
      ['domain', domains.domains.find(({ id }) => String(id) === filters.domain)?.shown ?? filters.domain],
      ['kind', filters.kind?.replaceAll('-', ' ')],
      ['tag', filters.tag],
      ['owner', filters.owner],
    ] as const
  ).flatMap(([name, value]) => (value === undefined ? [] : [{ name, value }])),
)
</script>

<template>
  <div class="filters">
    <div role="group" aria-label="Lanes" class="lanes">
      <button type="button" :aria-pressed="!filters.lane" @click="$emit('filter', { lane: undefined })">All</button>
      <button
        v-for="{ lane, title, cases } in shown"
        :key="lane"
        type="button"
        :aria-pressed="filters.lane === lane"
        @click="$emit('filter', { lane: filters.lane === lane ? undefined : lane })"
      >
        {{ title }} <span class="soft">{{ cases.toLocaleString('en') }}</span>
      </button>
    </div>
    <p v-if="filters.lane === 'misses'" class="all">
      <NuxtLink to="/misses">All not-found requests</NuxtLink>
    </p>
    <p v-if="filters.lane === 'dates'" class="all">
      <NuxtLink to="/dates">Calendar of dates</NuxtLink>
    </p>
    <div v-if="chips.length > 0" class="lanes">
      <button
        v-for="{ name, value } in chips"
        :key="name"
        type="button"
        @click="$emit('filter', { [name]: undefined })"
      >
        {{ name }}: <b>{{ value }}</b> <VIcon :icon="mdiClose" size="14" /><span class="visually-hidden">drop</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 4px 14px 8px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.lanes {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.lanes button {
  min-height: 26px;
  padding: 2px 5px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 2px;
  font-size: 12px;
}
.lanes button[aria-pressed='true'] {
  border-color: rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-tint-primary));
  font-weight: 700;
}
@media (max-width: 699px) {
  .lanes button {
    min-height: 44px;
    padding: 2px 10px;
  }
}
</style>
