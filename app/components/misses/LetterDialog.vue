<script setup lang="ts">
import { ref, watch } from 'vue'
import type { MissDetail } from '~~/core/schemas'

const { miss, page } = defineProps<{ miss: number; page: MissDetail['referrers'][number] }>()
const shown = defineModel<boolean>({ required: true })
const store = useMissesStore()
const session = useSessionStore()
const text = ref(page.letter.text)
const busy = ref(false)
watch(
  () => page,
  (now) => (text.value = now.letter.text),
)
const copy = async () => {
  await navigator.clipboard.writeText(text.value)
  useNotice().tell('Copied the letter')
}
async function told() {
  busy.value = true
  try {
    await store.told(miss, page.page)
    shown.value = false
    useNotice().tell('Noted that its owner was told')
  } catch (error) {
    useNotice().tell((error as Error).message)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VDialog v-model="shown" max-width="620" aria-labelledby="letter-title">
    <VCard class="pa-5">
      <div class="d-flex flex-column ga-3 field-column">
        <h1 id="letter-title">Message to the page’s owner</h1>
        <p>Subject: {{ page.letter.subject }}</p>
        <VTextarea v-model="text" label="Letter" rows="13" class="mono" maxlength="5000" />
        <div class="d-flex flex-wrap ga-2">
          <VBtn color="primary" variant="flat" @click="copy">Copy</VBtn>
          <VBtn :href="`mailto:?subject=${encodeURIComponent(page.letter.subject)}&body=${encodeURIComponent(text)}`"
            >Write by mail</VBtn
          >
          <VBtn v-if="session.may('editor')" :loading="busy" @click="told">Mark as sent</VBtn>
          <VBtn @click="shown = false">Close</VBtn>
        </div>
      </div>
    </VCard>
  </VDialog>
</template>
