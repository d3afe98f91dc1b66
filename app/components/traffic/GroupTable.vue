<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Traffic, TrafficGroup, TrafficRow } from '~~/core/schemas'
import { changeCell, GROUP_ITEMS, valueTitle } from '~/composables/traffic-words'

/** Visits by something: a row narrows everything to its value, unless it is `plain`. */
const { told, by, plain = false } = defineProps<{ told: Traffic; by: TrafficGroup; plain?: boolean }>()
const emit = defineEmits<{ by: [value: TrafficGroup]; narrow: [value: string] }>()
type Column = 'name' | 'visits' | 'people' | 'change'
const sort = ref<{ column: Column; down: boolean }>({ column: 'visits', down: true })
/** So many rows are shown at first, and so many more each time. */
const ROWS = 30
const shown = ref(ROWS)
watch(
  () => by,
  () => {
    sort.value = { column: 'visits', down: true }
    shown.value = ROWS
  },
)
const nameOf = (row: TrafficRow) => valueTitle(by, row.key, row.label)
const valueOf = (row: TrafficRow, column: Column): number | string =>
  column === 'name' ? nameOf(row) : column === 'change' ? row.visits - (row.before ?? 0) : (row[column] ?? 0)
const rows = computed(() => {
  const { column, down } = sort.value
  const sorted = [...told.rows].sort((a, b) => {
    const [one, other] = [valueOf(a, column), valueOf(b, column)]
    return typeof one === 'string' ? one.localeCompare(other as string) : one - (other as number)
  })
  return down ? sorted.reverse() : sorted
})
const most = computed(() => Math.max(1, ...told.rows.map(({ visits }) => visits)))
const columns = computed(() =>
  [
    { name: 'visits' as const, title: 'Visits' },
    { name: 'people' as const, title: 'People' },
    ...(told.compared ? [{ name: 'change' as const, title: 'Change' }] : []),
  ].filter(({ name }) => name !== 'people' || told.people !== null),
)
const turn = (column: Column) =>
  (sort.value = { column, down: sort.value.column === column ? !sort.value.down : column !== 'name' })
const ordered = (column: Column) =>
  sort.value.column === column ? (sort.value.down ? 'descending' : 'ascending') : undefined
const cell = (row: TrafficRow, column: Column) =>
  column === 'change'
    ? changeCell(row.visits, row.before)
    : row[column as 'visits' | 'people'] === null
      ? ''
      : row[column as 'visits' | 'people']!.toLocaleString('en')
const tone = (row: TrafficRow) =>
  row.before === null || row.before === 0 || row.visits === row.before
    ? ''
    : row.visits < row.before
      ? 'text-error'
      : 'text-success'
</script>

<template>
  <section aria-label="Figures by group">
    <table class="figures groups">
      <thead>
        <tr>
          <th scope="col" class="name" :aria-sort="ordered('name')">
            <VMenu>
              <template #activator="{ props: activator }">
                <button type="button" class="head" v-bind="activator">
                  By {{ GROUP_ITEMS.find(({ value }) => value === by)!.title.toLowerCase() }} ▾
                </button>
              </template>
              <VList density="compact">
                <VListItem
                  v-for="item in GROUP_ITEMS"
                  :key="item.value"
                  :title="item.title"
                  :active="item.value === by"
                  @click="emit('by', item.value)"
                />
              </VList>
            </VMenu>
          </th>
          <th v-for="column in columns" :key="column.name" scope="col" class="number" :aria-sort="ordered(column.name)">
            <button type="button" class="head" @click="turn(column.name)">
              {{ column.title
              }}<span aria-hidden="true">{{ ordered(column.name) ? (sort.down ? ' ▾' : ' ▴') : '' }}</span>
            </button>
          </th>
          <td class="bar-cell" />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows.slice(0, shown)" :key="row.key">
          <th scope="row" class="name">
            <span v-if="plain">{{ nameOf(row) }}</span>
            <button v-else type="button" class="value" :title="`Only ${nameOf(row)}`" @click="emit('narrow', row.key)">
              <ShortAddress v-if="by === 'link' && row.key !== '0'" :address="row.label" />
              <template v-else>{{ nameOf(row) }}</template>
            </button>
            <NuxtLink v-if="by === 'link' && row.key !== '0'" :to="`/links/${row.key}`" class="soft more">{{
              row.title || 'open'
            }}</NuxtLink>
          </th>
          <td
            v-for="column in columns"
            :key="column.name"
            class="number"
            :class="column.name === 'change' ? tone(row) : ''"
          >
            {{ cell(row, column.name) }}
          </td>
          <td class="bar-cell" aria-hidden="true">
            <div class="bar" :style="{ width: `${(100 * row.visits) / most}%` }" />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="told.rows.length === 0" class="soft py-4">No visits match these filters in this period.</p>
    <VBtn v-if="rows.length > shown" class="mt-3 no-print" @click="shown += ROWS"
      >Show {{ Math.min(ROWS, rows.length - shown) }} more of {{ rows.length.toLocaleString('en') }}</VBtn
    >
    <p v-if="told.groups > told.rows.length && rows.length <= shown" class="soft mt-2">
      Top {{ told.rows.length }} of {{ told.groups.toLocaleString('en') }} by visits.
    </p>
  </section>
</template>

<style scoped>
.groups {
  width: 100%;
}
.name {
  text-align: left;
  font-weight: 400;
  overflow-wrap: anywhere;
}
.value {
  text-align: left;
}
.value:hover {
  text-decoration: underline;
}
.more {
  margin-left: 8px;
  font-size: 12px;
}
.head {
  font-weight: 600;
}
.bar-cell {
  width: 28%;
}
.bar {
  height: 8px;
  min-width: 1px;
  background: rgb(var(--v-theme-bars));
}
/* A report is one page. */
@media print {
  .groups tbody tr:nth-child(n + 16) {
    display: none;
  }
}
@media (max-width: 700px) {
  .bar-cell {
    display: none;
  }
  /* The figures keep their width; an address gives way by its host. */
  .groups {
    table-layout: fixed;
  }
  .groups .number {
    width: 66px;
    padding-inline: 4px;
  }
  .value {
    max-width: 100%;
  }
}
</style>
