<script setup lang="ts">
import { ref } from 'vue'
import type { Domain } from '~~/core/schemas'

/** For a domain added by mistake: removes it, after a question. */
const { domain } = defineProps<{ domain: Domain }>()
const store = useDomainStore()
const notice = useNotice()
const open = ref(false)
const busy = ref(false)
const fault = ref('')

function ask() {
  fault.value = ''
  open.value = true
}
async function remove() {
  busy.value = true
  fault.value = ''
  const { shown } = domain
  try {
    await store.remove()
    open.value = false
    await navigateTo('/domains')
    notice.tell(`Removed ${shown}. Undo in the ledger.`)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div>
    <VBtn variant="text" color="error" @click="ask">Remove domain…</VBtn>
    <VDialog v-model="open" max-width="440" aria-labelledby="remove-domain-title">
      <VCard class="pa-5 d-flex flex-column ga-4">
        <h1 id="remove-domain-title">
          Remove <span class="mono">{{ domain.shown }}</span>?
        </h1>
        <p>
          For a domain that was added by mistake: one that was never open and has no links and no rules. Records that
          were placed in its zone stay there.
        </p>
        <VAlert v-if="fault" type="error" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn color="error" variant="flat" :loading="busy" @click="remove">Remove</VBtn>
          <VBtn @click="open = false">Cancel</VBtn>
        </div>
      </VCard>
    </VDialog>
  </div>
</template>
