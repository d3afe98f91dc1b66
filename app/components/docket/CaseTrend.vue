<script setup lang="ts">
import { computed, watch } from 'vue'
import { useThingTraffic } from '~/composables/useThingTraffic'
import { changeWords } from '~/composables/traffic-words'

/** Visits of the links a case is about: whether it is read more or less than before. */
const { links } = defineProps<{ links: string[] }>()
const { told, load } = useThingTraffic()
watch(
  () => links,
  (now) => load({ link: now }, 28),
  { immediate: true },
)
const words = computed(() => {
  if (!told.value?.compared) return ''
  const { total, compared } = told.value
  const change = changeWords(total, compared.total)
  return `${total.toLocaleString('en')} visits in 28 days, ${change}${compared.total > 0 ? ' in the 28 before' : ''}.`
})
</script>

<template>
  <p v-if="told && told.total > 0" class="trend">
    <DayBars :days="told.series.map(({ visits }) => visits ?? 0)" :width="168" :height="26" />
    <NuxtLink :to="{ path: '/traffic', query: { link: links } }" class="soft">{{ words }}</NuxtLink>
  </p>
</template>

<style scoped>
.trend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-top: 8px;
  font-size: 13px;
}
</style>
