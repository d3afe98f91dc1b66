<script setup lang="ts">
import { ref } from 'vue'
import { useDraft } from '~/composables/useDraft'

/** Asks a colleague to review a file before it is imported. */
const { intake } = defineProps<{ intake: number }>()
const exchange = useExchangeStore()
const notice = useNotice()
const open = ref(false)
const colleague = ref('')
const note = ref('')
const draft = useDraft(`question about ${intake}`, { colleague, note })
if (draft.resume()) open.value = true
const faults = ref<Record<string, string>>({})
const fault = ref('')
const busy = ref(false)

async function ask() {
  busy.value = true
  faults.value = {}
  fault.value = ''
  try {
    await exchange.ask(intake, { colleague: colleague.value, note: note.value })
    notice.tell(`E-mail to ${colleague.value} queued.`)
    draft.forget()
    open.value = false
    note.value = ''
    draft.resume()
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (Object.keys(faults.value).length === 0) fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VBtn v-if="!open" class="ask" @click="open = true">Ask for a review</VBtn>
  <form v-else class="box" aria-label="Ask for a review" @submit.prevent="ask">
    <VTextField
      v-model="colleague"
      type="email"
      label="Colleague’s e-mail address"
      autocomplete="off"
      autofocus
      :error-messages="faults.colleague"
    />
    <VTextField v-model="note" label="Message (optional)" :error-messages="faults.note" />
    <p v-if="fault" role="alert" class="text-error">{{ fault }}</p>
    <div class="ways">
      <VBtn type="submit" :loading="busy" :disabled="colleague.trim() === ''">Send the mail</VBtn>
      <VBtn variant="text" @click="open = false">Cancel</VBtn>
    </div>
  </form>
</template>

<style scoped>
.ask {
  align-self: flex-start;
}
.box {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
