<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed } from 'vue'
import type { Traffic } from '~~/core/schemas'
import { changeCell } from '~/composables/traffic-words'

/** The same figures as the chart's, one step a row. */
const { told } = defineProps<{ told: Traffic }>()
const FORMATS = {
  quarter: 'ccc d LLL, HH:mm',
  hour: 'ccc d LLL, HH:mm',
  day: 'ccc d LLL yyyy',
  week: "'week of' d LLL yyyy",
  month: 'LLLL yyyy',
} as const
const rows = computed(() =>
  told.series.map(({ at, visits, people, unfinished }, index) => ({
    at,
    title: DateTime.fromISO(at, { zone: told.zone }).toFormat(FORMATS[told.step]) + (unfinished ? ' (incomplete)' : ''),
    visits,
    people,
    before: told.compared?.series[index]?.visits ?? null,
  })),
)
const show = (value: number | null) => (value === null ? '' : value.toLocaleString('en'))
</script>

<template>
  <!-- What scrolls takes the keyboard's focus. -->
  <!-- eslint-disable-next-line vuejs-accessibility/no-noninteractive-tabindex -->
  <div class="scroll" tabindex="0" role="region" aria-label="Visits over time, as a table">
    <table class="figures">
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col" class="number">Visits</th>
          <th scope="col" class="number">People</th>
          <th v-if="told.compared" scope="col" class="number">Before</th>
          <th v-if="told.compared" scope="col" class="number">Change</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.at">
          <th scope="row">{{ row.title }}</th>
          <td class="number">{{ row.visits === null ? 'no data' : show(row.visits) }}</td>
          <td class="number">{{ show(row.people) }}</td>
          <td v-if="told.compared" class="number">{{ show(row.before) }}</td>
          <td v-if="told.compared" class="number">
            {{ row.visits === null ? '' : changeCell(row.visits, row.before) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 320px;
  overflow: auto;
}
</style>
