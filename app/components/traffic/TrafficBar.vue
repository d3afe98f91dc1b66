<script setup lang="ts">
import { computed, ref } from 'vue'
import { KINDS, PERIODS, type PeriodName } from '~/composables/useTrafficView'

/** From when to when, against what, whose visits: and the same figures as a file. */
const { period, kind, compare, against } = defineProps<{
  period: PeriodName
  kind: string
  compare: string
  against: string
}>()
const emit = defineEmits<{
  period: [value: PeriodName]
  own: [from: string, to: string]
  kind: [value: string]
  compare: [value: string]
  against: [day: string]
  file: [type: 'csv' | 'json' | 'sheet']
  print: []
}>()
const COMPARES = [
  { value: 'before', title: 'previous period' },
  { value: 'year', title: 'same period last year' },
  { value: 'none', title: 'nothing' },
]
const { day } = useMoments()
const comparedWords = computed(() =>
  compare === 'own' ? `from ${day(against)}` : COMPARES.find(({ value }) => value === compare)!.title,
)
const choosing = ref(false)
const [first, firstFault] = [ref(''), ref('')]
function takeFirst() {
  firstFault.value = first.value === '' ? 'Enter the first day to compare with.' : ''
  if (firstFault.value !== '') return
  choosing.value = false
  emit('against', first.value)
}
const asking = ref(false)
const [from, to] = [ref(''), ref('')]
const fault = ref('')
function takeOwn() {
  fault.value =
    from.value === '' || to.value === ''
      ? 'Enter the first and last day.'
      : from.value > to.value
        ? 'The last day must not lie before the first.'
        : ''
  if (fault.value !== '') return
  asking.value = false
  emit('own', from.value, to.value)
}
</script>

<template>
  <div class="bar" role="group" aria-label="Period and kind">
    <ChoiceButtons :choices="PERIODS" :chosen="period" @choose="emit('period', $event)" />
    <VMenu v-model="asking" :close-on-content-click="false">
      <template #activator="{ props: activator }">
        <VBtn
          v-bind="activator"
          :color="period === 'own' ? 'primary' : undefined"
          :variant="period === 'own' ? 'tonal' : undefined"
          >From … to …</VBtn
        >
      </template>
      <VCard class="pa-4" width="300">
        <form novalidate class="d-flex flex-column ga-3" @submit.prevent="takeOwn">
          <DateField v-model="from" kind="day" past label="First day" />
          <DateField v-model="to" kind="day" past label="Last day" :error-messages="fault" />
          <VBtn type="submit" color="primary" variant="flat">Show</VBtn>
        </form>
      </VCard>
    </VMenu>
    <VSpacer />
    <VMenu v-model="choosing" :disabled="period === 'all'" :close-on-content-click="false">
      <template #activator="{ props: activator }">
        <VBtn v-bind="activator" :disabled="period === 'all'">Compare: {{ comparedWords }} ▾</VBtn>
      </template>
      <VCard width="280">
        <VList density="compact">
          <VListItem
            v-for="item in COMPARES"
            :key="item.value"
            :title="item.title"
            :active="item.value === compare"
            @click="((choosing = false), emit('compare', item.value))"
          />
        </VList>
        <form novalidate class="d-flex flex-column ga-2 px-4 pb-4" @submit.prevent="takeFirst">
          <DateField
            v-model="first"
            kind="day"
            past
            label="Or the same number of days from"
            :error-messages="firstFault"
          />
          <VBtn type="submit">Compare</VBtn>
        </form>
      </VCard>
    </VMenu>
    <ChoiceButtons :choices="KINDS" :chosen="kind" @choose="emit('kind', $event)" />
    <VMenu>
      <template #activator="{ props: activator }"><VBtn v-bind="activator">Export ▾</VBtn></template>
      <VList density="compact">
        <VListItem title="CSV" @click="emit('file', 'csv')" />
        <VListItem title="Spreadsheet" @click="emit('file', 'sheet')" />
        <VListItem title="JSON" @click="emit('file', 'json')" />
        <VListItem title="Print" @click="emit('print')" />
      </VList>
    </VMenu>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}
.bar :deep(.v-btn) {
  height: 28px;
  min-width: 0;
  padding: 0 6px;
  font-size: 12px;
}
@media print {
  .bar {
    display: none;
  }
}
</style>
