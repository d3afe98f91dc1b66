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
  <section v-if="told && told.total > 0" aria-label="Visits per day">
    <h3>Visits per day</h3>
    <div class="panel">
      <DayBars :days="told.series.map(({ visits }) => visits ?? 0)" :width="300" :height="52" class="bars" />
      <NuxtLink :to="{ path: '/traffic', query: { link: links } }" class="soft">{{ words }}</NuxtLink>
    </div>
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 10px 12px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
  font-size: 13px;
}
.bars {
  max-width: 100%;
}
</style>
