<script setup lang="ts">
import type { LedgerEntry } from '~~/core/schemas'

defineProps<{ entries: LedgerEntry[] }>()
</script>

<template>
  <section aria-label="History">
    <h3 class="mb-1">History</h3>
    <LedgerRow v-for="entry in entries" :key="entry.id" :entry="entry" narrow />
  </section>
</template>
