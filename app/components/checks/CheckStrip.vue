<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed } from 'vue'
import type { LedgerEntry, Placement, TargetCheckView } from '~~/core/schemas'

/** Visits a day, how the destination was that day, and when it was changed: one line for all three. */
const {
  days,
  checks,
  history,
  placements = [],
} = defineProps<{
  days: readonly number[]
  checks: readonly TargetCheckView[]
  history: readonly LedgerEntry[]
  placements?: readonly Placement[]
}>()
const { zone } = useMoments()
const STEP = 5
const HEIGHT = 40
const width = computed(() => Math.max(1, days.length) * STEP)
const ago = (iso: string) => {
  const today = DateTime.now().setZone(zone()).startOf('day')
  return Math.round(today.diff(DateTime.fromISO(iso, { zone: zone() }).startOf('day'), 'days').days)
}
const column = (iso: string) => days.length - 1 - ago(iso)
const bars = computed(() => {
  const most = Math.max(1, ...days)
  return days.map((visits, index) => ({ x: index * STEP, height: (visits / most) * HEIGHT }))
})
/** The worst of each day. */
const marks = computed(() => {
  const byDay = new Map<number, 'sound' | 'broken'>()
  for (const { at, failed } of checks) {
    const day = column(at)
    if (day >= 0 && day < days.length) byDay.set(day, failed || byDay.get(day) === 'broken' ? 'broken' : 'sound')
  }
  return [...byDay].map(([day, state]) => ({ x: day * STEP + STEP / 2 - 0.5, state }))
})
const changes = computed(() =>
  history
    .filter(
      ({ action, before, after }) => action === 'change-destination' || before?.destination !== after?.destination,
    )
    .map(({ at }) => column(at))
    .filter((day) => day >= 0 && day < days.length)
    .map((day) => day * STEP + STEP / 2),
)
/** Days something with the address on it was put up. */
const put = computed(() =>
  placements
    .flatMap(({ placedOn }) => (placedOn === null ? [] : [column(placedOn)]))
    .filter((day) => day >= 0 && day < days.length)
    .map((day) => day * STEP + STEP / 2 - 0.5),
)
const most = computed(() => Math.max(0, ...days))
const label = computed(() => {
  const visits = days.reduce((sum, day) => sum + day, 0).toLocaleString('en')
  const failed = checks.filter((check) => check.failed).length
  const of = `${checks.length} ${checks.length === 1 ? 'check' : 'checks'}`
  return (
    `${visits} visits in ${days.length} days; ${failed} of ${of} failed; ` +
    `${changes.value.length === 1 ? 'one change' : `${changes.value.length} changes`} of destination; ` +
    `${put.value.length} placed; at most ${most.value.toLocaleString('en')} visits on one day`
  )
})
</script>

<template>
  <figure class="strip">
    <svg :viewBox="`0 0 ${width} ${HEIGHT + 14}`" role="img" :aria-label="label">
      <line v-for="x in changes" :key="`c${x}`" :x1="x" :x2="x" y1="0" :y2="HEIGHT + 14" class="change" />
      <rect
        v-for="bar in bars"
        :key="bar.x"
        :x="bar.x"
        :y="HEIGHT - bar.height"
        :width="STEP - 1"
        :height="bar.height"
        class="visits"
      />
      <path v-for="x in put" :key="`p${x}`" :d="`M${x} 0l3 3 -3 3 -3 -3z`" class="put" />
      <template v-for="mark in marks" :key="mark.x">
        <circle v-if="mark.state === 'sound'" :cx="mark.x" :cy="HEIGHT + 7" r="1.8" class="sound" />
        <path v-else :d="`M${mark.x - 2.6} ${HEIGHT + 10}h5.2l-2.6 -6z`" class="broken" />
      </template>
    </svg>
    <figcaption class="soft">
      Visits a day, {{ most.toLocaleString('en') }} at most; below, <span class="text-sound">●</span> days whose checks
      were answered, <span class="text-broken">▲</span> days one failed; lines where the destination changed,
      <span class="text-put">◆</span> where it was put up.
    </figcaption>
  </figure>
</template>

<style scoped>
.strip {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-width: 440px;
  height: auto;
}
.visits {
  fill: rgb(var(--v-theme-bars));
}
.sound {
  fill: rgb(var(--v-theme-success));
}
.put {
  fill: rgb(var(--v-theme-info));
}
.text-put {
  color: rgb(var(--v-theme-info));
}
.broken {
  fill: rgb(var(--v-theme-error));
}
.change {
  stroke: rgb(var(--v-theme-primary));
  stroke-width: 1;
}
figcaption {
  margin-top: 4px;
  font-size: 12px;
}
</style>
