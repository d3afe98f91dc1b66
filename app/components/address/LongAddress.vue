<script setup lang="ts">
import { computed } from 'vue'

const { address, wrap = false } = defineProps<{ address: string; wrap?: boolean }>()
/**
 * The telling end of a path that stays whole, in characters: its last segment, with the one before where it is shorter
 * than this.
 */
const SHORT_TAIL = 8
const MAX_TAIL = 26
const parts = computed(() => {
  const match = /^(?:https:\/\/)?([^/?#]*)(.*)$/.exec(address)!
  const path = match[2]!
  const last = Math.max(path.lastIndexOf('/', path.length - 2), 0)
  const before = Math.max(path.lastIndexOf('/', last - 1), 0)
  const isShort = path.length - last < SHORT_TAIL && path.length - before <= MAX_TAIL
  const cut = Math.max(isShort ? before : last, path.length - MAX_TAIL)
  return { host: wrap ? match[1]! : match[1]!.replace(/^www\./, ''), front: path.slice(0, cut), back: path.slice(cut) }
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
/* The host gives way first, then the middle of the path; its end stays. */
.long {
  display: flex;
  min-width: 0;
  white-space: nowrap;
}
.host {
  flex: 0 100 auto;
  min-width: 5ch;
  overflow: hidden;
  text-overflow: ellipsis;
  font-weight: 500;
}
.front,
.back {
  overflow: hidden;
  color: rgb(var(--v-theme-soft));
  text-overflow: ellipsis;
}
.front {
  flex: 0 10 auto;
  min-width: 0;
}
.back {
  flex: 0 0 auto;
  max-width: calc(100% - 5ch);
}
.wrap {
  display: inline;
  white-space: normal;
  word-break: break-all;
}
</style>
