<script setup lang="ts">
import { BarChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { DateTime } from 'luxon'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { useTheme } from 'vuetify'
import type { ForecastView } from '~~/core/schemas'

use([BarChart, GridComponent, MarkLineComponent, SVGRenderer])
const { forecast, now } = defineProps<{ forecast: ForecastView; now: number }>()
const theme = useTheme()
const { zone } = useMoments()
const clock = (moment: number) => DateTime.fromMillis(moment, { zone: zone() }).toFormat('HH:mm')
const FONT = 'Atkinson Hyperlegible Next Variable, system-ui, sans-serif'
const STATES: Record<string, string> = {
  new: 'sees the new records',
  old: 'holds the old record',
  absent: 'holds “no such record”',
  silent: 'does not answer',
  faulty: 'fails',
}

const changed = computed(() => (forecast.changedAt === null ? undefined : Date.parse(forecast.changedAt)))
const everyone = computed(() => (forecast.everyoneBy === null ? undefined : Date.parse(forecast.everyoneBy)))
const rows = computed(() =>
  forecast.resolvers.map((resolver) => ({
    ...resolver,
    at: resolver.by === null ? undefined : Date.parse(resolver.by),
  })),
)
const option = computed(() => {
  if (changed.value === undefined) return undefined
  const colors = theme.current.value.colors as unknown as Record<string, string>
  const ends = [everyone.value ?? 0, now, ...rows.value.map((row) => row.at ?? 0)]
  const end = changed.value + (Math.max(...ends) - changed.value) * 1.12
  const held = rows.value.map((row) => Math.max(0, (row.at ?? end) - changed.value!))
  const ink = { color: colors['on-surface'], fontFamily: FONT, fontSize: 12 }
  const line = (moment: number, text: string, color: string, dashed: boolean) => ({
    xAxis: moment - changed.value!,
    label: {
      formatter: text,
      color,
      fontWeight: 'bold' as const,
      fontSize: 12,
      fontFamily: FONT,
      position: 'start' as const,
    },
    lineStyle: { color, width: 2, type: dashed ? ('dashed' as const) : ('solid' as const) },
  })
  return {
    animation: false,
    grid: { left: 90, right: 20, top: 28, bottom: 26 },
    xAxis: {
      type: 'value' as const,
      min: 0,
      max: end - changed.value,
      splitLine: { show: false },
      axisLabel: {
        ...ink,
        color: colors.soft,
        formatter: (value: number) => clock(changed.value! + value),
        hideOverlap: true,
      },
    },
    yAxis: {
      type: 'category' as const,
      inverse: true,
      data: rows.value.map((row) => row.server),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: colors.rule } },
      axisLabel: ink,
    },
    series: [
      {
        type: 'bar' as const,
        stack: 'all',
        barWidth: 15,
        data: held,
        itemStyle: { color: colors['tint-error'] },
        silent: true,
      },
      {
        type: 'bar' as const,
        stack: 'all',
        barWidth: 15,
        data: held.map((length) => end - changed.value! - length),
        itemStyle: { color: colors['tint-success'] },
        silent: true,
        markLine: {
          symbol: 'none',
          silent: true,
          data: [
            line(now, `now ${clock(now)}`, colors.primary!, false),
            ...(everyone.value === undefined
              ? []
              : [line(everyone.value, `all by ${clock(everyone.value)}`, colors.success!, true)]),
          ],
        },
      },
    ],
  }
})
function inWords(row: (typeof rows.value)[number]): string {
  const until = row.at !== undefined && row.state !== 'new' ? ` until ${clock(row.at)} at the latest` : ''
  return `${row.server} ${STATES[row.state]}${until}`
}
const told = computed(() =>
  [
    forecast.changedAt === null ? 'Not yet on all name servers.' : `Changed ${clock(changed.value!)}.`,
    `${rows.value.map(inWords).join('; ')}.`,
    ...(everyone.value === undefined ? [] : [`Everyone sees it by ${clock(everyone.value)}.`]),
  ].join(' '),
)
</script>

<template>
  <div>
    <VChart
      v-if="option"
      class="chart"
      :style="{ height: `${70 + rows.length * 28}px` }"
      :option="option"
      autoresize
      role="img"
      :aria-label="told"
    />
    <p v-if="changed !== undefined" class="soft">
      Changed at every name server {{ clock(changed)
      }}<template v-if="everyone !== undefined"
        >; <b>all by {{ clock(everyone) }}</b></template
      >.
      <template v-for="row in rows.filter((row) => row.stretches)" :key="row.server">
        <StateMark state="doubtful" /> {{ row.server }} reports a longer lifetime for the old answer than its TTL
        allows.</template
      >
    </p>
  </div>
</template>

<style scoped>
.chart {
  width: 100%;
  /* Until it has been drawn anew for a narrower window. */
  overflow: hidden;
}
</style>
