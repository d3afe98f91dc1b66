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
      Give this address to {{ told.name }}, over a way only they read. There they choose their own password. It works
      once, until {{ short(told.expiresAt) }}, and is not shown again:
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
