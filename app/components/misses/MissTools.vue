<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { MissList } from '~~/core/schemas'
import type { MissFilters } from '~/stores/misses'

/** What narrows and orders the misses. */
const { filters, counts } = defineProps<{ filters: MissFilters; counts: MissList['counts'] }>()
const emit = defineEmits<{ filter: [more: Record<string, string | undefined>] }>()
const domains = useDomainsStore()
if (!domains.loaded) void domains.load().catch(() => undefined)
const STATES = [
  { value: 'open', title: 'Open' },
  { value: 'answered', title: 'Answered' },
  { value: 'noise', title: 'Noise' },
] as const
const SORTS = [
  { value: 'visitors', title: 'Most visitors' },
  { value: 'last', title: 'Most recent' },
  { value: 'path', title: 'Address' },
] as const
const search = ref(filters.q ?? '')
/** What is narrowed otherwise shows another first one. */
const narrow = (more: Record<string, string | undefined>) => emit('filter', { ...more, miss: undefined })
const searchSoon = useDebounceFn(() => narrow({ q: search.value?.trim() || undefined }), 200)
const domainItems = computed(() => [
  { value: '', title: 'All domains' },
  ...domains.domains.map(({ id, shown }) => ({ value: String(id), title: shown })),
])
</script>

<template>
  <div class="tools">
    <div role="group" aria-label="State" class="states">
      <button
        v-for="{ value, title } in STATES"
        :key="value"
        type="button"
        :aria-pressed="filters.state === value"
        @click="narrow({ state: value === 'open' ? undefined : value })"
      >
        {{ title }} <span class="soft">{{ counts[value].toLocaleString('en') }}</span>
      </button>
    </div>
    <VTextField
      v-model="search"
      class="search"
      label="Search addresses"
      clearable
      maxlength="300"
      @update:model-value="searchSoon"
    />
    <VSelect
      class="narrow"
      :model-value="filters.domain ?? ''"
      :items="domainItems"
      label="Domain"
      @update:model-value="narrow({ domain: $event || undefined })"
    />
    <VSelect
      class="narrow"
      :model-value="filters.sort ?? 'visitors'"
      :items="SORTS"
      label="Order"
      @update:model-value="$emit('filter', { sort: $event === 'visitors' ? undefined : $event })"
    />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 10px 14px 2px;
}
.states {
  display: flex;
  gap: 4px;
}
.states button {
  padding: 4px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 3px;
}
.states button[aria-pressed='true'] {
  border-color: rgb(var(--v-theme-primary));
  font-weight: 600;
}
.search {
  flex: 1 1 180px;
}
.narrow {
  flex: 0 0 150px;
}
</style>
