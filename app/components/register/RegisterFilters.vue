<script setup lang="ts">
import { computed } from 'vue'
import { filterWords } from '~/composables/filter-words'
import type { RegisterFilters } from '~~/core/schemas'
import type { Counts } from '~/stores/register'

const { counts, overall, filters } = defineProps<{
  counts: Counts | undefined
  /** Of all links: a view replaces the filters there are. */
  overall: Counts | undefined
  filters: RegisterFilters
}>()
const emit = defineEmits<{
  choose: [name: keyof RegisterFilters, value: string | undefined]
  view: [filters: RegisterFilters]
}>()

interface Row {
  value: string | undefined
  title: string
  links: number | undefined
  mark?: string
  mono?: boolean
}

/** Views: ready-made ones, and those the member saved. */
const saved = useSavedStore()
void saved.load()
const READY: { title: string; filters: RegisterFilters; links?: keyof Counts['views'] }[] = [
  { title: 'All links', filters: {} },
  { title: 'Broken or doubtful', filters: { target: 'faulty' }, links: 'faulty' },
  { title: 'Ending in 30 days', filters: { endsWithin: '30' }, links: 'ending' },
  { title: 'Never visited', filters: { visited: 'never' }, links: 'never' },
  { title: 'Changed this week', filters: { changedWithin: '7', sort: 'changed' } },
  { title: 'Domain not open', filters: { waiting: '1' }, links: 'waiting' },
]
const keyOf = (of: RegisterFilters) =>
  Object.entries(of)
    .filter(([, value]) => value)
    .map(([name, value]) => `${name}=${value}`)
    .sort()
    .join('&')
const views = computed(() => [
  ...READY.map((view) => ({ ...view, set: undefined })),
  ...saved.of('view').map((set) => ({ title: set.title, filters: set.value, links: undefined, set })),
])
const isUnnamed = computed(
  () =>
    keyOf({ ...filters, sort: undefined }) !== '' &&
    !views.value.some((view) => keyOf(view.filters) === keyOf(filters)),
)
// Two views that differ in their order alone have different names.
const titleOf = (of: RegisterFilters) => (filterWords(of) + (of.sort ? `, by ${of.sort}` : '')).slice(0, 120)
/** A view is named after its filters. */
const save = () => saved.save({ kind: 'view', title: titleOf(filters), value: { ...filters } })
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
    title: 'Owner',
    name: 'owner',
    rows: (counts?.owners ?? []).map((owner) => ({ value: owner.name, title: owner.name, links: owner.links })),
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
    <section aria-label="Views">
      <h3>Views</h3>
      <div v-for="view in views" :key="keyOf(view.filters)" class="view">
        <button
          type="button"
          class="row"
          :class="{ on: keyOf(view.filters) === keyOf(filters) }"
          :aria-pressed="keyOf(view.filters) === keyOf(filters)"
          :title="view.title"
          @click="emit('view', view.filters)"
        >
          <span class="title">{{ view.title }}</span>
          <span v-if="view.links" class="links">{{ overall?.views[view.links].toLocaleString('en') }}</span>
        </button>
        <button
          v-if="view.set"
          type="button"
          class="drop"
          :aria-label="`Remove view ${view.title}`"
          @click="saved.remove(view.set)"
        >
          ✕
        </button>
      </div>
      <VBtn v-if="isUnnamed" size="small" class="mt-1" @click="save">Save this view</VBtn>
    </section>
    <section v-for="group in groups.filter(({ rows }) => rows.length > 0)" :key="group.name" :aria-label="group.title">
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
.view {
  display: flex;
}
.drop {
  flex: none;
  width: 24px;
  color: rgb(var(--v-theme-soft));
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
@media (max-width: 999px) {
  .row,
  .drop {
    min-height: 44px;
  }
}
</style>
