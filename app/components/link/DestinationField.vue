<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { readCampaign, readDestination, tidyDestination, type TidyNote } from '~~/core/address'
import { readLinkLines } from '~~/core/search'
import type { Link } from '~~/core/schemas'

const {
  fault = undefined,
  ownId = undefined,
  quiet = false,
} = defineProps<{
  fault?: string
  ownId?: number
  /** It is as it was: nothing is said of it. */
  quiet?: boolean
}>()
const destination = defineModel<string>({ required: true })
/** Lines were pasted that each say a destination: several links are wanted. */
const emit = defineEmits<{ lines: [text: string] }>()
const store = useLinkStore()
const field = ref<{ focus(): void; select(): void }>()
const notes = ref<TidyNote[]>([])
const twins = ref<Link[]>([])
const settled = refDebounced(destination, 250)

const WORDS: Record<TidyNote, string> = {
  spaces: 'stray spaces removed',
  invisible: 'invisible characters removed',
  'line-breaks': 'line breaks removed',
  wrapping: 'brackets or quotes around it removed',
  scheme: 'https:// added',
}
const campaign = computed(() => {
  const said = Object.entries(readCampaign(destination.value))
  return said.map(([name, value]) => `${name} ${value}`).join(', ')
})
const tidied = computed(() =>
  notes.value.length ? `Corrected: ${notes.value.map((note) => WORDS[note]).join(', ')}.` : '',
)

function tidy(text: string) {
  const result = tidyDestination(text)
  if (result.text !== text || result.notes.length > 0) notes.value = result.notes
  destination.value = result.text
}
// It has several lines only for the eye: Enter sends the form, as in a field of one line.
const submit = (event: KeyboardEvent) => (event.target as HTMLTextAreaElement).form?.requestSubmit()
// A pasted address is tidied at once, a typed one when the field is left.
function paste(event: ClipboardEvent) {
  const input = event.target as HTMLTextAreaElement
  const pasted = event.clipboardData?.getData('text') ?? ''
  const whole = input.selectionStart === 0 && input.selectionEnd === input.value.length
  if (!whole) return
  event.preventDefault()
  const lines = ownId === undefined ? readLinkLines(pasted) : []
  if (lines.length > 1 && lines.filter((line) => !line.fault).length > 1) return emit('lines', pasted)
  notes.value = []
  tidy(pasted)
}

let asking: AbortController | undefined
watch(
  settled,
  async (text) => {
    asking?.abort()
    const mine = (asking = new AbortController())
    twins.value = []
    if (!readDestination(text).ok) return
    const found = await store.twins(text, mine.signal).catch(() => [])
    if (!mine.signal.aborted) twins.value = found.filter((link) => link.id !== ownId)
  },
  { immediate: true },
)

// The form may be loaded after the dialog that asked for it has opened.
onMounted(() => ownId === undefined && field.value?.focus())
defineExpose({
  focus: () => field.value?.focus(),
  /** Ready to be typed over. */
  select() {
    field.value?.focus()
    field.value?.select()
  },
})
</script>

<template>
  <div>
    <VTextarea
      ref="field"
      v-model="destination"
      label="Destination"
      class="mono"
      placeholder="https://www.example/page"
      :error-messages="fault"
      autocomplete="off"
      spellcheck="false"
      inputmode="url"
      rows="1"
      auto-grow
      no-resize
      @keydown.enter.exact.prevent="submit"
      @paste="paste"
      @blur="tidy(destination)"
    />
    <p v-if="tidied" class="told text-info" role="status">{{ tidied }}</p>
    <p v-if="campaign && !quiet" class="told text-info">Campaign parameters: {{ campaign }}.</p>
    <div v-if="twins.length && !quiet" class="warning-notice twins" role="status">
      <p v-for="twin in twins" :key="twin.id">
        <b class="mono">{{ twin.address }}</b> already leads there ({{ twin.visits28.toLocaleString('en') }} visits in
        28 days).
        <NuxtLink :to="`/links/${twin.id}`" target="_blank">Use that link</NuxtLink>
      </p>
    </div>
  </div>
</template>

<style scoped>
.told {
  margin: 4px 0 0;
  font-size: 13px;
}
.twins {
  margin-top: 8px;
  font-size: 13px;
}
</style>
