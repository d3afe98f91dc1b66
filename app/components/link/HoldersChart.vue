<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { DateTime } from 'luxon'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { useTheme } from 'vuetify'

use([LineChart, GridComponent, SVGRenderer])
/** How many hold an old answer, from now until nobody does. */
const { curve } = defineProps<{ curve: readonly { at: string; holders: number }[] }>()
const theme = useTheme()
const { zone } = useMoments()
const FONT = 'Atkinson Hyperlegible Next Variable, system-ui, sans-serif'
const clock = (moment: number) => DateTime.fromMillis(moment, { zone: zone() }).toFormat('ccc HH:mm')
const points = computed(() => curve.map(({ at, holders }) => [Date.parse(at), holders] as const))
const told = computed(() => {
  const some = points.value.filter((_, index) => index % 12 === 0)
  return `Holders: ${some.map(([at, holders]) => `${holders} at ${clock(at)}`).join(', ')}.`
})
const option = computed(() => {
  const colors = theme.current.value.colors as unknown as Record<string, string>
  const ink = { color: colors.soft, fontFamily: FONT, fontSize: 12 }
  return {
    animation: false,
    grid: { left: 44, right: 16, top: 10, bottom: 24 },
    xAxis: {
      type: 'value' as const,
      min: points.value[0]?.[0],
      max: points.value.at(-1)?.[0],
      splitLine: { show: false },
      axisLine: { lineStyle: { color: colors.rule } },
      axisLabel: { ...ink, formatter: clock, hideOverlap: true },
    },
    yAxis: {
      type: 'value' as const,
      minInterval: 1,
      splitNumber: 2,
      splitLine: { lineStyle: { color: colors.rule } },
      axisLabel: ink,
    },
    series: [
      {
        type: 'line' as const,
        step: 'end' as const,
        symbol: 'none',
        data: points.value,
        lineStyle: { color: colors.primary, width: 2 },
        areaStyle: { color: colors['tint-primary'] },
        silent: true,
      },
    ],
  }
})
</script>

<template>
  <VChart class="chart" :option="option" autoresize role="img" :aria-label="told" />
</template>

<style scoped>
.chart {
  height: 110px;
}
</style>
