<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed } from 'vue'
import { DATE_KINDS, type DateEvent } from '~~/core/schemas'

const { days, events, month, today, zone } = defineProps<{
  /** The days shown, from a Monday to a Sunday: YYYY-MM-DD. */
  days: readonly string[]
  events: readonly DateEvent[]
  month: number
  today: string
  zone: string
}>()
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const byDay = computed(() => {
  const found = new Map<string, DateEvent[]>()
  for (const event of events) found.set(event.day, [...(found.get(event.day) ?? []), event])
  return found
})
const weeks = computed(() => Array.from({ length: days.length / 7 }, (_, week) => days.slice(week * 7, week * 7 + 7)))
const dayOf = (day: string) => DateTime.fromISO(day, { zone: 'utc' }).setLocale('en-GB')
const timeOf = ({ at }: DateEvent) =>
  at === null ? '' : DateTime.fromISO(at, { zone }).setLocale('en-GB').toFormat('HH:mm')
const MARKS: Partial<Record<DateEvent['kind'], string>> = {
  'link-ends': '✕',
  'ends-there': '▲',
  renewal: '▲',
  certificate: '▲',
  'look-again': '◆',
  aside: '◆',
}
</script>

<template>
  <table class="month">
    <caption class="visually-hidden">
      Calendar
    </caption>
    <thead>
      <tr>
        <th v-for="name in WEEKDAYS" :key="name" scope="col">{{ name }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="week in weeks" :key="week[0]">
        <td
          v-for="day in week"
          :key="day"
          :class="{ other: dayOf(day).month !== month, today: day === today, empty: !byDay.has(day) }"
          :aria-current="day === today ? 'date' : undefined"
        >
          <div class="day">
            <span class="wide">{{ dayOf(day).day }}</span>
            <span class="narrow">{{ dayOf(day).toFormat('ccc d LLL') }}</span>
          </div>
          <ul>
            <li v-for="event in byDay.get(day)" :key="event.key">
              <NuxtLink :to="event.to" :title="`${DATE_KINDS[event.kind]}${event.note ? `: ${event.note}` : ''}`">
                <span aria-hidden="true" class="mark">{{ MARKS[event.kind] ?? '○' }}</span>
                <span class="visually-hidden">{{ DATE_KINDS[event.kind] }}:</span>
                <time v-if="event.at" class="soft">{{ timeOf(event) }}</time>
                {{ event.title }}
              </NuxtLink>
            </li>
          </ul>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.month {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
}
th {
  padding: 4px 8px;
  font-size: 12px;
  text-align: left;
}
td {
  height: 104px;
  padding: 4px 6px;
  vertical-align: top;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-rule));
}
td.other {
  background: transparent;
}
.day {
  font-size: 12px;
  font-variant-numeric: tabular-nums;
}
.today .day {
  font-weight: 700;
  color: rgb(var(--v-theme-primary));
}
.narrow {
  display: none;
}
ul {
  padding: 0;
  margin: 2px 0 0;
  list-style: none;
}
li {
  padding: 3px 0;
  font-size: 12px;
  line-height: 1.35;
  overflow-wrap: anywhere;
}
li time {
  margin-right: 4px;
}
.mark {
  margin-right: 4px;
}
li a {
  display: inline-block;
  min-height: 24px;
  color: inherit;
  text-decoration: none;
}
li a:hover,
li a:focus-visible {
  text-decoration: underline;
}
/* On a narrow screen the days stand below one another, and those with nothing are left out. */
@media (max-width: 799px) {
  thead {
    display: none;
  }
  tr,
  td {
    display: block;
  }
  td {
    height: auto;
  }
  td.empty:not(.today) {
    display: none;
  }
  .narrow {
    display: inline;
  }
  .wide {
    display: none;
  }
}
</style>
