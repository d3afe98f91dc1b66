<script setup lang="ts">
import { computed } from 'vue'
import { said, span } from '~/composables/domain-words'
import type { ObservationsView, PlanView } from '~~/core/schemas'

const { plan, observations, now } = defineProps<{ plan: PlanView; observations: ObservationsView; now: number }>()
type Item = ObservationsView['items'][number]

const relative = (name: string) =>
  plan.records.find((record) => record.name === name)?.forms.relative ??
  (name === plan.origin ? '@' : name.endsWith('.' + plan.origin) ? name.slice(0, -plan.origin.length - 1) : name)
const rows = computed(() => {
  const wanted = observations.wanted.map((set) => ({
    ...set,
    label: relative(set.name),
    needed: set.data.join(', ') || 'none',
  }))
  return wanted.map((set) => ({
    ...set,
    cells: observations.servers.map((server) =>
      observations.items.find(
        (item) =>
          item.role === server.role &&
          item.server === server.server &&
          item.name === set.name &&
          item.type === set.type,
      ),
    ),
  }))
})
const short = (server: string) =>
  server.endsWith('.' + plan.origin) ? server.slice(0, -plan.origin.length - 1) : server
const COLOURS: Record<string, string> = { new: 'new', old: 'old', absent: 'absent' }
const tone = (item: Item | undefined) => (item?.sight ? (COLOURS[item.sight] ?? '') : '')
const left = (item: Item) =>
  item.lapsesAt && (item.sight === 'old' || item.sight === 'absent') && Date.parse(item.lapsesAt) > now
    ? `${span(Date.parse(item.lapsesAt) - now)} left`
    : ''
const text = (item: Item | undefined, type: string) =>
  item?.sight === 'new' && type === 'TXT' ? 'matches' : item ? said(item) : '·'
const WORDS: Record<string, string> = {
  new: 'as needed',
  old: 'the old answer',
  absent: 'not there yet',
  silent: 'no answer',
  faulty: 'faulty',
}
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Records by server">
    <table>
      <thead>
        <tr>
          <th scope="col">Name</th>
          <th scope="col">Type</th>
          <th scope="col">Needed</th>
          <th
            v-for="server in observations.servers"
            :key="server.role + server.server"
            scope="col"
            :title="server.server"
          >
            {{ short(server.server) }}
          </th>
        </tr>
      </thead>
      <tbody class="mono">
        <tr v-for="row in rows" :key="row.name + row.type">
          <th scope="row">{{ row.label }}</th>
          <td>{{ row.type }}</td>
          <td class="needed" :title="row.needed">{{ row.needed }}</td>
          <td
            v-for="(item, index) in row.cells"
            :key="index"
            class="cell"
            :class="tone(item)"
            :title="item ? `${said(item)}${item.ttl === null ? '' : `, TTL ${item.ttl} s`}` : 'not asked'"
          >
            <span class="said">{{ text(item, row.type) }}</span>
            <span v-if="item?.sight" class="visually-hidden">, {{ WORDS[item.sight] }}</span>
            <span v-if="item && left(item)" class="left">{{ left(item) }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="observations.servers.length === 0" class="soft">No name server or resolver is known to ask.</p>
  </div>
</template>

<style scoped>
.scroll {
  /* Holds what only screen readers see, which would else widen the page. */
  position: relative;
  overflow-x: auto;
}
table {
  width: 100%;
  border-spacing: 2px;
  border-collapse: separate;
  font-size: 12.5px;
}
thead th {
  padding: 4px 6px;
  color: rgb(var(--v-theme-soft));
  font-size: 12px;
  font-weight: 600;
  text-align: left;
  white-space: nowrap;
}
tbody th,
td {
  padding: 6px;
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}
.needed,
.said {
  display: block;
  max-width: 128px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
td.needed {
  display: table-cell;
}
.cell {
  min-width: 84px;
  color: rgb(var(--v-theme-soft));
}
.new,
.old,
.absent {
  color: rgb(var(--v-theme-on-surface));
}
.new {
  background: rgb(var(--v-theme-tint-success));
}
.old {
  background: rgb(var(--v-theme-tint-error));
}
.absent {
  background: rgb(var(--v-theme-tint-warning));
}
.left {
  display: block;
  font-size: 12px;
}
</style>
