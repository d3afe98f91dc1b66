<script setup lang="ts">
import type { CheckHop } from '~~/core/schemas'

defineProps<{ hops: readonly CheckHop[] }>()
const VIA = { request: '', status: '', refresh: 'the page sends on to ', script: 'its script sends on to ' }
</script>

<template>
  <ol class="hops">
    <li v-for="(hop, index) in hops" :key="index">
      <RedirectChip v-if="hop.status >= 300 && hop.status < 400" :status="hop.status" />
      <span v-else class="mono status" :class="`text-${hop.state}`">{{ hop.status || '—' }}</span>
      <span class="where"
        ><span class="soft">{{ VIA[hop.via] }}</span
        ><LongAddress :address="hop.url" wrap /><span v-if="hop.text" class="text-broken"> {{ hop.text }}</span></span
      >
      <span class="soft took">{{ hop.milliseconds.toLocaleString('en') }} ms</span>
    </li>
  </ol>
</template>

<style scoped>
.hops {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
  padding: 4px 0;
  font-size: 13px;
}
li + li {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.status {
  flex: 0 0 38px;
  font-weight: 700;
}
.where {
  flex: 1 1 200px;
  min-width: 0;
  overflow-wrap: anywhere;
}
.took {
  font-variant-numeric: tabular-nums;
}
</style>
