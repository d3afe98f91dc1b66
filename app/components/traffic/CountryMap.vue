<script setup lang="ts">
import { MapChart } from 'echarts/charts'
import { TooltipComponent, VisualMapComponent } from 'echarts/components'
import { registerMap, use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, onMounted, ref } from 'vue'
import VChart from 'vue-echarts'
import { useTheme } from 'vuetify'
import type { Traffic } from '~~/core/schemas'
import { valueTitle } from '~/composables/traffic-words'

use([MapChart, TooltipComponent, VisualMapComponent, SVGRenderer])
/** Visits by country on a map (Natural Earth). A country narrows everything to it; the table below tells the same. */
const { told } = defineProps<{ told: Traffic }>()
const emit = defineEmits<{ narrow: [country: string] }>()
const theme = useTheme()
const ready = ref(false)

const ANTARCTICA = '010'
type Rings = (number[] | Rings)[]
/** What lies on both sides of the 180th meridian is drawn on one. */
function unwrap(rings: Rings): void {
  const isRing = typeof (rings[0] as number[] | undefined)?.[0] === 'number'
  if (!isRing) return rings.forEach((one) => unwrap(one as Rings))
  const points = rings as number[][]
  const longitudes = points.map(([longitude]) => longitude!)
  if (Math.max(...longitudes) - Math.min(...longitudes) > 180)
    for (const point of points) if (point[0]! < 0) point[0]! += 360
}

onMounted(async () => {
  // Only who looks at countries fetches their shapes.
  const [{ feature }, { default: world }, { default: countries }] = await Promise.all([
    import('topojson-client'),
    import('world-atlas/countries-110m.json'),
    import('i18n-iso-countries'),
  ])
  const atlas = world as never as import('topojson-specification').Topology
  const shapes = feature(atlas, atlas.objects.countries!) as unknown as {
    features: { id?: string; properties: { name: string }; geometry: { coordinates: Rings } }[]
  }
  // Countries go by their two letters (ISO 3166-1), shapes by their numbers.
  shapes.features = shapes.features.filter(({ id }) => id !== ANTARCTICA)
  for (const shape of shapes.features) unwrap(shape.geometry.coordinates)
  for (const shape of shapes.features)
    shape.properties = { name: (shape.id && countries.numericToAlpha2(shape.id)) || shape.properties.name }
  registerMap('countries', shapes as never)
  ready.value = true
})
const option = computed(() => {
  const colors = theme.current.value.colors as unknown as Record<string, string>
  const counted = told.rows.filter(({ key }) => /^[A-Z]{2}$/.test(key))
  return {
    animation: false,
    tooltip: {
      confine: true,
      backgroundColor: colors.surface,
      borderColor: colors.rule,
      textStyle: { color: colors['on-surface'], fontSize: 12 },
      formatter: (shown: unknown) => {
        const { name, value } = shown as { name: string; value: number }
        const title = valueTitle('country', name)
        return Number.isNaN(value) ? title : `${title}: ${value.toLocaleString('en')} visits`
      },
    },
    visualMap: {
      show: false,
      min: 0,
      max: Math.max(1, ...counted.map(({ visits }) => visits)),
      inRange: { color: [colors['tint-primary']!, colors.primary!] },
    },
    series: [
      {
        type: 'map' as const,
        map: 'countries',
        left: 0,
        right: 0,
        top: 0,
        bottom: 0,
        itemStyle: { areaColor: colors.surface, borderColor: colors.rule, borderWidth: 0.6 },
        emphasis: { label: { show: false }, itemStyle: { areaColor: colors['tint-info'] } },
        select: { disabled: true },
        data: counted.map(({ key, visits }) => ({ name: key, value: visits })),
      },
    ],
  }
})
const chosen = ({ name, value }: { name?: string; value?: unknown }) =>
  name && !Number.isNaN(value as number) && emit('narrow', name)
</script>

<template>
  <VChart
    v-if="ready"
    class="map"
    :option="option"
    autoresize
    role="img"
    aria-label="Visits by country on a map; the table below tells the same"
    @click="chosen"
  />
</template>

<style scoped>
.map {
  height: 240px;
}
</style>
