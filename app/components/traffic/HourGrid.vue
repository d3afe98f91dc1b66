<script setup lang="ts">
import { computed, ref } from 'vue'
import { fullStrength, strengthOf } from '~/composables/hour-strength'
import type { Traffic } from '~~/core/schemas'

/** Visits by hour and weekday. A cell narrows everything to its hour. */
const { told } = defineProps<{ told: Traffic }>()
const emit = defineEmits<{ narrow: [hour: string] }>()
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const visits = computed(() => new Map(told.rows.map(({ key, visits }) => [Number(key), visits])))
const full = computed(() => fullStrength([...visits.value.values()]))
const most = computed(() => Math.max(0, ...visits.value.values()))
const at = (day: number, hour: number) => visits.value.get(day * 24 + hour) ?? 0
const grid = ref<HTMLElement>()
const MOVES: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 24, ArrowUp: -24 }
function move(event: KeyboardEvent, hour: number) {
  const by = MOVES[event.key]
  if (by === undefined) return
  event.preventDefault()
  grid.value?.querySelector<HTMLElement>(`[data-hour="${hour + by}"]`)?.focus()
}
</script>

<template>
  <table ref="grid" class="grid" aria-label="Visits by hour and weekday">
    <thead class="visually-hidden">
      <tr>
        <td class="corner" />
        <th v-for="hour in 24" :key="hour" scope="col">{{ hour - 1 }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(name, day) in DAYS" :key="name">
        <th scope="row">{{ name }}</th>
        <td v-for="hour in 24" :key="hour">
          <button
            type="button"
            class="cell"
            :tabindex="day === 0 && hour === 1 ? 0 : -1"
            :style="{ opacity: strengthOf(at(day, hour - 1), full) }"
            :title="`${name} ${hour - 1} to ${hour}: ${at(day, hour - 1).toLocaleString('en')} visits`"
            :aria-label="`${name} ${hour - 1} to ${hour}: ${at(day, hour - 1)} visits; narrow to this hour`"
            :data-hour="day * 24 + hour - 1"
            @click="emit('narrow', String(day * 24 + hour - 1))"
            @keydown="move($event, day * 24 + hour - 1)"
          />
        </td>
      </tr>
    </tbody>
    <tfoot aria-hidden="true">
      <tr>
        <td />
        <td colspan="12" class="soft">0</td>
        <td colspan="11" class="soft">12</td>
        <td class="soft">23</td>
      </tr>
    </tfoot>
  </table>
  <p v-if="most > full" class="soft note">
    Full colour from {{ full.toLocaleString('en') }} visits; the most is {{ most.toLocaleString('en') }}.
  </p>
</template>

<style scoped>
.grid {
  width: 100%;
  table-layout: fixed;
  border-spacing: 1px;
  border-collapse: separate;
  font-size: 12px;
}
.corner,
tbody th {
  width: 34px;
  padding-right: 6px;
  text-align: left;
  font-weight: 400;
}
td {
  padding: 0;
}
.cell {
  display: block;
  width: 100%;
  height: 14px;
  background: rgb(var(--v-theme-primary));
}
.note {
  font-size: 12px;
}
.cell:focus-visible {
  opacity: 1 !important;
}
</style>
