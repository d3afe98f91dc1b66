<script setup lang="ts">
const { minute = undefined, connected } = defineProps<{ minute?: number; connected: boolean }>()
</script>

<template>
  <span class="live" role="status" :title="connected ? 'Live' : 'Reconnecting'">
    <template v-if="minute !== undefined">{{ minute.toLocaleString('en') }} in the last minute</template>
    <template v-else>Connecting…</template>
    <span aria-hidden="true" :class="connected ? 'text-success' : 'soft'">{{ connected ? ' ●' : ' ○' }}</span>
  </span>
</template>

<style scoped>
.live {
  padding: 4px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
  font-size: 12px;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
