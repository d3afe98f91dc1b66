<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, onMounted } from 'vue'

const register = useRegisterStore()
const docket = useDocketStore()
const domains = useDomainsStore()
const COUNT_MS = 15_000
const loadCases = () => docket.loadTotal().catch(() => undefined)
const visibility = useDocumentVisibility()
useIntervalFn(() => visibility.value === 'visible' && loadCases(), COUNT_MS)
onMounted(() => {
  void loadCases()
  if (register.total === undefined) register.loadTotal().catch(() => undefined)
})
const route = useRoute()
// A link's page belongs to the register.
const section = computed(
  () => ({ links: 'register', misses: 'docket' })[route.path.split('/')[1]!] ?? route.path.split('/')[1],
)
// Trace and settings belong to none of them: then the first tab is the one the keyboard comes to.
const inOne = computed(() =>
  ['docket', 'register', 'domains', 'traffic', 'exchange', 'ledger'].includes(section.value ?? ''),
)
const count = (value: number | undefined) => value?.toLocaleString('en')
</script>

<template>
  <VTabs
    :model-value="section"
    :mandatory="inOne && 'force'"
    class="tabs"
    height="38"
    color="primary"
    slider-color="primary"
    density="compact"
    show-arrows
  >
    <VTab to="/docket" value="docket" class="tab" v-bind="inOne ? {} : { tabindex: 0 }"
      >Docket<span v-if="docket.total" class="count alarm">{{ count(docket.total) }}</span></VTab
    >
    <VTab to="/register" value="register" class="tab"
      >Register<span v-if="register.total !== undefined" class="count">{{ count(register.total) }}</span></VTab
    >
    <VTab to="/domains" value="domains" class="tab"
      >Domains<span v-if="domains.loaded" class="count">{{ count(domains.domains.length) }}</span></VTab
    >
    <VTab to="/traffic" value="traffic" class="tab">Traffic</VTab>
    <VTab to="/exchange" value="exchange" class="tab">Exchange</VTab>
    <VTab to="/ledger" value="ledger" class="tab">Ledger</VTab>
  </VTabs>
</template>

<style scoped>
.tab {
  font-size: 14px;
  font-weight: 600;
  text-transform: none;
  min-width: 0;
  padding: 0 14px;
  border: 0;
}
.count.alarm {
  background: rgb(var(--v-theme-error));
  color: rgb(var(--v-theme-surface));
}
.count {
  margin-left: 8px;
  padding: 0 8px;
  border-radius: 10px;
  background: rgb(var(--v-theme-count));
  color: rgb(var(--v-theme-on-surface));
  font-size: 12px;
  line-height: 18px;
}
</style>
