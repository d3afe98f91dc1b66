<script setup lang="ts">
import { computed } from 'vue'

const {
  days,
  width = 66,
  height = 22,
  groups = 0,
  what = 'visits',
  highest = 0,
} = defineProps<{
  days: number[]
  width?: number
  height?: number
  groups?: number
  what?: string
  /** What the full height means, where several are compared; else each one's own highest. */
  highest?: number
}>()
const bars = computed(() => {
  if (!groups || days.length <= groups) return days
  const size = days.length / groups
  return Array.from({ length: groups }, (_, index) =>
    days.slice(index * size, (index + 1) * size).reduce((sum, day) => sum + day, 0),
  )
})
const total = computed(() => days.reduce((sum, day) => sum + day, 0))
const label = computed(
  () =>
    `${total.value.toLocaleString('en')} ${what} in ${days.length} days; ` +
    `at most ${Math.max(0, ...days).toLocaleString('en')} on one day`,
)
</script>

<template>
  <VSparkline
    type="bar"
    :model-value="bars"
    :width="width"
    :height="height"
    :padding="0"
    :line-width="Math.max(1, width / bars.length - 1.5)"
    :min="0"
    :max="highest || Math.max(1, ...bars)"
    color="bars"
    :style="{ width: `${width}px`, height: `${height}px` }"
    role="img"
    :aria-label="label"
    :title="label"
  />
</template>
