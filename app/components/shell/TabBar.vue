<script setup lang="ts">
import { onMounted } from 'vue'

const register = useRegisterStore()
onMounted(() => {
  if (register.total === undefined) register.loadTotal().catch(() => undefined)
})
const count = (value: number | undefined) => value?.toLocaleString('en')
</script>

<template>
  <VTabs class="tabs" height="38" color="primary" slider-color="primary" density="compact" show-arrows>
    <VTab to="/register" class="tab">Register<span v-if="register.total !== undefined" class="count">{{ count(register.total) }}</span></VTab>
    <VTab to="/ledger" class="tab">Ledger</VTab>
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
