<script setup lang="ts">
import { computed } from 'vue'
import type { Counts, RegisterFilters } from '~/stores/register'

const { counts, filters } = defineProps<{ counts: Counts | undefined; filters: RegisterFilters }>()
const emit = defineEmits<{ choose: [name: keyof RegisterFilters, value: string | undefined] }>()

interface Row {
  value: string | undefined
  title: string
  links: number | undefined
  mark?: string
  mono?: boolean
}
const groups = computed((): { title: string; name: keyof RegisterFilters; rows: Row[] }[] => [
  {
    title: 'Domain',
    name: 'domain',
    rows: [
      { value: undefined, title: 'All', links: counts?.domains.reduce((sum, domain) => sum + domain.links, 0) },
      ...(counts?.domains ?? []).map((domain) => ({
        value: domain.host,
        title: domain.host,
        links: domain.links,
        mono: true,
      })),
    ],
  },
  {
    title: 'Standing',
    name: 'standing',
    rows: ['live', 'scheduled', 'paused', 'ended', 'retired'].map((standing) => ({
      value: standing,
      title: standing[0]!.toUpperCase() + standing.slice(1),
      links: counts?.standings[standing],
      mark: standing,
    })),
  },
  {
    title: 'Redirect',
    name: 'redirect',
    rows: [
      { value: 'temporary', title: 'Temporary', links: counts?.redirects.temporary },
      { value: 'permanent', title: 'Permanent', links: counts?.redirects.permanent },
    ],
  },
  {
    title: 'Target',
    name: 'target',
    rows: [
      { value: 'broken', title: 'Broken', links: counts?.targets.broken, mark: 'broken' },
      { value: 'doubtful', title: 'Doubtful', links: counts?.targets.doubtful, mark: 'doubtful' },
      { value: 'sound', title: 'Sound', links: counts?.targets.sound, mark: 'sound' },
      { value: 'unknown', title: 'Not checked', links: counts?.targets.unknown, mark: 'idle' },
    ],
  },
  {
    title: 'Tags',
    name: 'tag',
    rows: (counts?.tags ?? []).map((tag) => ({ value: tag.name, title: tag.name, links: tag.links })),
  },
])

// Choosing what is chosen takes it off again.
const choose = (name: keyof RegisterFilters, value: string | undefined) =>
  emit('choose', name, filters[name] === value ? undefined : value)
</script>

<template>
  <div class="filters">
    <section v-for="group in groups" :key="group.name" :aria-label="group.title">
      <h3>{{ group.title }}</h3>
      <button
        v-for="row in group.rows"
        :key="row.title"
        type="button"
        class="row"
        :class="{ on: filters[group.name] === row.value }"
        :aria-pressed="filters[group.name] === row.value"
        :title="row.title"
        @click="choose(group.name, row.value)"
      >
        <StateMark v-if="row.mark" :state="row.mark" />
        <span class="title" :class="{ mono: row.mono }">{{ row.title }}</span>
        <span class="links">{{ row.links?.toLocaleString('en') }}</span>
      </button>
    </section>
  </div>
</template>

<style scoped>
.filters {
  padding: 14px 12px;
}
section + section {
  margin-top: 14px;
}
h3 {
  margin-bottom: 4px;
}
.row {
  display: flex;
  align-items: center;
  gap: 4px;
  width: 100%;
  min-height: 24px;
  padding: 1px 6px;
  border-radius: 3px;
  color: inherit;
  text-align: left;
  font-size: 13px;
}
.row:hover {
  background: rgb(var(--v-theme-count));
}
.on {
  background: rgb(var(--v-theme-tint-primary));
  color: rgb(var(--v-theme-primary));
  font-weight: 700;
}
.title {
  flex: 1 1 auto;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.links {
  font-variant-numeric: tabular-nums;
}
</style>
