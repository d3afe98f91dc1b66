<script setup lang="ts">
import { mdiContentCopy } from '@mdi/js'
import { copyAddress } from '~/composables/copy-address'

const { link } = defineProps<{ link: { domain: string; slug: string; address: string } }>()
</script>

<template>
  <button
    type="button"
    class="copy"
    :aria-label="`Copy ${link.address}`"
    title="Copy"
    @click.stop.prevent="copyAddress(link)"
  >
    <VIcon :icon="mdiContentCopy" size="16" />
  </button>
</template>

<style scoped>
.copy {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  width: 28px;
  height: 28px;
  border-radius: 2px;
  color: rgb(var(--v-theme-soft));
}
.copy:hover {
  background: rgb(var(--v-theme-count));
  color: rgb(var(--v-theme-on-surface));
}
</style>
