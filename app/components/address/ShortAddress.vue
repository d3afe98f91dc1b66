<script setup lang="ts">
import { computed } from 'vue'

const { address } = defineProps<{ address: string }>()
const parts = computed(() => {
  const slash = address.indexOf('/')
  return { host: address.slice(0, slash), slug: address.slice(slash + 1) }
})
</script>

<template>
  <span class="short mono" :title="address"
    ><span class="host">{{ parts.host }}</span
    ><span class="slash">/</span><span class="slug">{{ parts.slug }}</span></span
  >
</template>

<style scoped>
/* The host gives way first; a slug is never cut. */
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
  flex: 0 1 auto;
  min-width: 0;
  font-weight: 700;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
</style>
