<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed, ref, watch } from 'vue'

useHead({ title: 'Dates · Fides' })
const route = useRoute()
const store = useDatesStore()
const session = useSessionStore()
const problem = ref('')
const zone = computed(() => session.session?.organisation.timeZone ?? 'UTC')
const today = computed(() => DateTime.now().setZone(zone.value).toISODate()!)
/** The month shown, as YYYY-MM in the address, so that a link to it keeps. */
const month = computed(() => {
  const asked = DateTime.fromISO(`${String(route.query.month ?? '')}-01`, { zone: 'utc' })
  return asked.isValid ? asked : DateTime.fromISO(today.value, { zone: 'utc' }).startOf('month')
})
const title = computed(() => month.value.setLocale('en-GB').toFormat('LLLL yyyy'))
const days = computed(() => {
  const first = month.value.startOf('week')
  const last = month.value.endOf('month').endOf('week')
  const count = Math.round(last.diff(first, 'days').days)
  return Array.from({ length: count }, (_, index) => first.plus({ days: index }).toISODate()!)
})
const load = () =>
  store.load(days.value[0]!, days.value.at(-1)!).then(
    () => (problem.value = ''),
    (error: Error) => (problem.value = error.message),
  )
watch(days, load, { immediate: true })
const turn = (months: number) => navigateTo({ query: { month: month.value.plus({ months }).toFormat('yyyy-LL') } })
useShortcuts({ j: () => void turn(1), k: () => void turn(-1) })
</script>

<template>
  <div class="page">
    <header class="head">
      <VBtn variant="text" class="px-1" :to="{ path: '/docket', query: { lane: 'dates' } }">‹ Docket</VBtn>
      <h1>{{ title }}</h1>
      <VBtn class="turn" aria-label="The month before" @click="turn(-1)">‹</VBtn>
      <VBtn class="turn" aria-label="The month after" @click="turn(1)">›</VBtn>
      <VBtn variant="text" @click="navigateTo({ query: {} })">Today</VBtn>
      <span class="soft">Times are those of {{ zone }}.</span>
      <NuxtLink to="/settings/notices" class="text-primary">Subscribe in your calendar</NuxtLink>
    </header>
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" role="alert"
      >{{ problem }} <VBtn variant="text" @click="load">Try again</VBtn></VAlert
    >
    <MonthGrid :days="days" :events="store.events" :month="month.month" :today="today" :zone="zone" />
  </div>
</template>

<style scoped>
.page {
  padding: 8px 20px 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-bottom: 10px;
}
.turn {
  min-width: 40px;
}
</style>
