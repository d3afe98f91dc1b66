<script setup lang="ts">
import type { Link } from '~~/core/schemas'

/** Links with words that differ from the searched ones by a letter or two. */
defineProps<{ links: Link[] }>()
</script>

<template>
  <section class="similar" aria-labelledby="similar-title">
    <h2 id="similar-title">Similar</h2>
    <RegisterList :links="links" :next="null" :loading="false" />
  </section>
</template>

<style scoped>
.similar {
  flex: 1 1 0;
  min-height: 0;
  overflow-y: auto;
  border-top: 1px solid rgb(var(--v-theme-rule));
}
h2 {
  padding: 10px 14px 4px;
  font-size: 14px;
}
</style>
