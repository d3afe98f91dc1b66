<script setup lang="ts">
import { ref } from 'vue'
import { KINDS, PERIODS, type PeriodName } from '~/composables/useTrafficView'

/** From when to when, against what, whose visits: and the same figures as a file. */
const { period, kind, compare } = defineProps<{ period: PeriodName; kind: string; compare: string }>()
const emit = defineEmits<{
  period: [value: PeriodName]
  own: [from: string, to: string]
  kind: [value: string]
  compare: [value: string]
  file: [type: 'csv' | 'json' | 'sheet']
  print: []
}>()
const COMPARES = [
  { value: 'before', title: 'the time before' },
  { value: 'year', title: 'a year before' },
  { value: 'none', title: 'nothing' },
]
const asking = ref(false)
const [from, to] = [ref(''), ref('')]
const fault = ref('')
function takeOwn() {
  fault.value =
    from.value === '' || to.value === ''
      ? 'Give the first and the last day.'
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
          <VTextField v-model="from" type="date" label="First day" />
          <VTextField v-model="to" type="date" label="Last day" :error-messages="fault" />
          <VBtn type="submit" color="primary" variant="flat">Show</VBtn>
        </form>
      </VCard>
    </VMenu>
    <VSpacer />
    <VMenu :disabled="period === 'all'">
      <template #activator="{ props: activator }">
        <VBtn v-bind="activator" :disabled="period === 'all'"
          >against {{ COMPARES.find(({ value }) => value === compare)!.title }} ▾</VBtn
        >
      </template>
      <VList density="compact">
        <VListItem
          v-for="item in COMPARES"
          :key="item.value"
          :title="item.title"
          :active="item.value === compare"
          @click="emit('compare', item.value)"
        />
      </VList>
    </VMenu>
    <ChoiceButtons :choices="KINDS" :chosen="kind" @choose="emit('kind', $event)" />
    <VMenu>
      <template #activator="{ props: activator }"><VBtn v-bind="activator">Take out ▾</VBtn></template>
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
  gap: 6px;
  align-items: center;
}
.bar :deep(.v-btn) {
  height: 28px;
  min-width: 0;
  padding: 0 8px;
  font-size: 12px;
}
@media print {
  .bar {
    display: none;
  }
}
</style>
