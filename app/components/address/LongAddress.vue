<script setup lang="ts">
import { computed } from 'vue'

const { address, wrap = false } = defineProps<{ address: string; wrap?: boolean }>()
const TAIL = 12
const parts = computed(() => {
  const match = /^(?:https:\/\/)?([^/?#]*)(.*)$/.exec(address)!
  const path = match[2]!
  const cut = Math.max(0, path.length - TAIL)
  return { host: match[1]!, front: path.slice(0, cut), back: path.slice(cut) }
})
</script>

<template>
  <span class="long mono" :class="{ wrap }" :title="address"
    ><span class="host">{{ parts.host }}</span
    ><span class="front">{{ parts.front }}</span
    ><span class="back">{{ parts.back }}</span></span
  >
</template>

<style scoped>
/* The middle of the path gives way; host and tail stay. */
.long {
  display: flex;
  min-width: 0;
  white-space: nowrap;
}
.host {
  flex: 0 1 auto;
  min-width: 4ch;
  overflow: hidden;
  text-overflow: ellipsis;
  font-weight: 600;
}
.front,
.back {
  color: rgb(var(--v-theme-soft));
}
.front {
  flex: 0 1000 auto;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.back {
  flex: 0 0 auto;
}
.wrap {
  display: inline;
  white-space: normal;
  word-break: break-all;
}
</style>
