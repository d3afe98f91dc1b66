<script setup lang="ts">
import { computed } from 'vue'
import type { OneTimeAddress } from '~~/core/schemas'

/** A one-time address, shown this once. */
const { told } = defineProps<{ told: OneTimeAddress & { name: string } }>()
const { short } = useMoments()
const address = computed(() => location.origin + told.path)
async function copy() {
  await navigator.clipboard.writeText(address.value)
  useNotice().tell('Copied the address')
}
</script>

<template>
  <VAlert type="success" variant="tonal" role="status">
    <p>
      Send this link to {{ told.name }} privately. It lets them set a password, works once, and expires
      {{ short(told.expiresAt) }}. It is shown only once:
    </p>
    <code class="mono address">{{ address }}</code>
    <VBtn class="mt-2" @click="copy">Copy</VBtn>
  </VAlert>
</template>

<style scoped>
.address {
  display: block;
  overflow-wrap: anywhere;
}
</style>
