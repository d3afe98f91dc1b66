<script setup lang="ts">
import { BarChart, LineChart } from 'echarts/charts'
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { DateTime } from 'luxon'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { useTheme } from 'vuetify'
import type { Traffic } from '~~/core/schemas'

use([BarChart, LineChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer])
/** Visits over time, beside the period they are compared with; time nobody counted is a gap, today is hatched. */
const { told, height = 210 } = defineProps<{ told: Traffic; height?: number }>()
const emit = defineEmits<{ choose: [at: string] }>()
const theme = useTheme()
const FONT = 'Atkinson Hyperlegible Next Variable, system-ui, sans-serif'
const FORMATS = { quarter: 'HH:mm', hour: 'ccc HH:mm', day: 'd LLL', week: 'd LLL', month: 'LLL yyyy' } as const
const label = (at: string) => DateTime.fromISO(at, { zone: told.zone }).toFormat(FORMATS[told.step])
const words = computed(() => {
  const known = told.series.filter(({ visits }) => visits !== null)
  const most = known.reduce((best, one) => ((one.visits ?? 0) > (best?.visits ?? -1) ? one : best), known[0])
  return (
    `${told.total.toLocaleString('en')} visits in ${told.series.length} steps` +
    (most ? `; the most at ${label(most.at)}, ${(most.visits ?? 0).toLocaleString('en')}.` : '.')
  )
})
const option = computed(() => {
  const colors = theme.current.value.colors as unknown as Record<string, string>
  const ink = { color: colors.soft, fontFamily: FONT, fontSize: 12 }
  const hatched = {
    symbol: 'rect',
    dashArrayX: [1, 0],
    dashArrayY: [2, 3],
    rotation: -Math.PI / 4,
    color: colors.surface,
  }
  return {
    animation: false,
    grid: { left: 52, right: 12, top: 12, bottom: 26 },
    tooltip: {
      trigger: 'axis' as const,
      confine: true,
      backgroundColor: colors.surface,
      borderColor: colors.rule,
      textStyle: { ...ink, color: colors['on-surface'] },
      formatter: (shown: unknown) => {
        const { dataIndex } = (shown as { dataIndex: number }[])[0]!
        const step = told.series[dataIndex]!
        const before = told.compared?.series[dataIndex]
        const lines = [
          `${label(step.at)}${step.unfinished ? ' (not over)' : ''}`,
          step.visits === null ? 'nobody counted' : `${step.visits.toLocaleString('en')} visits`,
          ...(step.people === null ? [] : [`${step.people.toLocaleString('en')} people`]),
          ...(before?.visits === null || before === undefined ? [] : [`${before.visits.toLocaleString('en')} before`]),
        ]
        return lines.join('<br>')
      },
    },
    xAxis: {
      type: 'category' as const,
      data: told.series.map(({ at }) => label(at)),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: colors.rule } },
      axisLabel: { ...ink, hideOverlap: true },
    },
    yAxis: {
      type: 'value' as const,
      minInterval: 1,
      splitNumber: 3,
      splitLine: { lineStyle: { color: colors.rule } },
      axisLabel: ink,
    },
    series: [
      {
        type: 'bar' as const,
        barCategoryGap: '24%',
        data: told.series.map(({ visits, unfinished }) => ({
          value: visits ?? '-',
          itemStyle: unfinished ? { color: colors.primary, opacity: 0.75, decal: hatched } : undefined,
        })),
        itemStyle: { color: colors.primary, opacity: 0.75 },
        emphasis: { itemStyle: { opacity: 1 } },
      },
      ...(told.compared && told.compared.total > 0
        ? [
            {
              type: 'line' as const,
              symbol: 'none',
              connectNulls: false,
              data: told.series.map((_, index) => told.compared!.series[index]?.visits ?? '-'),
              lineStyle: { color: colors.info, width: 1.5, type: 'dashed' as const },
              silent: true,
            },
          ]
        : []),
    ],
  }
})
const chosen = ({ dataIndex }: { dataIndex?: number }) =>
  dataIndex !== undefined && emit('choose', told.series[dataIndex]!.at)
</script>

<template>
  <VChart
    class="chart"
    :style="{ height: `${height}px` }"
    :option="option"
    autoresize
    role="img"
    :aria-label="words"
    @click="chosen"
  />
</template>
