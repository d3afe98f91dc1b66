<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Domain, Handover } from '~~/core/schemas'

/** The text to send to the person who keeps the zone, with the page that shows whether its records have arrived. */
const { domain } = defineProps<{ domain: Domain }>()
const open = defineModel<boolean>({ required: true })
const store = useDomainStore()
const handover = ref<Handover>()
const problem = ref('')
watch(
  open,
  async (is) => {
    if (!is) return
    problem.value = ''
    try {
      handover.value = await store.readHandover(domain.id)
    } catch (error) {
      problem.value = (error as Error).message
    }
  },
  { immediate: true },
)
const mail = (text: string) =>
  `mailto:?subject=${encodeURIComponent(`DNS records for ${domain.shown}`)}&body=${encodeURIComponent(text)}`
</script>

<template>
  <VDialog v-model="open" max-width="680" scrollable aria-labelledby="handover-title">
    <VCard class="pa-5 d-flex flex-column ga-4">
      <h1 id="handover-title">
        Hand over the records of <span class="mono">{{ domain.shown }}</span>
      </h1>
      <p>
        For the person who keeps the zone. The page named in it needs no account; anyone with its address sees these
        records and where they have arrived, nothing else.
      </p>
      <VAlert v-if="problem" type="error" variant="tonal" density="compact">{{ problem }}</VAlert>
      <VTextarea
        v-else-if="handover"
        :model-value="handover.text"
        label="Text"
        readonly
        rows="12"
        auto-grow
        class="mono"
      />
      <p v-else class="soft">Loading…</p>
      <div class="d-flex flex-wrap ga-2">
        <CopyText v-if="handover" :text="handover.text" what="text" label="Copy text" />
        <VBtn v-if="handover" :href="mail(handover.text)">Write a mail</VBtn>
        <VBtn v-if="handover" :href="handover.page" target="_blank">Open the page</VBtn>
        <VSpacer />
        <VBtn @click="open = false">Close</VBtn>
      </div>
    </VCard>
  </VDialog>
</template>
