<script setup lang="ts">
import { computed } from 'vue'

const { address } = defineProps<{ address: string }>()
const parts = computed(() => {
  const slash = address.indexOf('/')
  return { host: address.slice(0, slash), slug: address.slice(slash + 1) }
})
</script>

<template>
  <span class="short mono" :class="{ alone: parts.host === '' }" :title="address"
    ><span v-if="parts.host" class="host">{{ parts.host }}</span
    ><span class="slash">/</span><span class="slug">{{ parts.slug }}</span></span
  >
</template>

<style scoped>
/* The host is shortened first, down to two letters; only a slug wider than what is left continues on another line. */
.short {
  display: inline-flex;
  align-items: baseline;
  max-width: 100%;
  min-width: 0;
}
.host,
.slash {
  color: rgb(var(--v-theme-soft));
}
.host {
  flex: 0 1000 auto;
  min-width: 2ch;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.slug {
  flex: none;
  max-width: calc(100% - 3ch);
  font-weight: 700;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
.alone .slug {
  max-width: calc(100% - 1ch);
}
</style>
