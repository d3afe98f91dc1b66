<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { readDestination, tidyDestination, type TidyNote } from '~~/core/address'
import type { Link } from '~~/core/schemas'

const { fault = undefined, ownId = undefined } = defineProps<{ fault?: string; ownId?: number }>()
const destination = defineModel<string>({ required: true })
const store = useLinkStore()
const field = ref<{ focus(): void }>()
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
const tidied = computed(() =>
  notes.value.length ? `Tidied: ${notes.value.map((note) => WORDS[note]).join(', ')}.` : '',
)

function tidy(text: string) {
  const result = tidyDestination(text)
  if (result.text !== text || result.notes.length > 0) notes.value = result.notes
  destination.value = result.text
}
// A pasted address is tidied at once, a typed one when the field is left.
function paste(event: ClipboardEvent) {
  const input = event.target as HTMLInputElement
  const pasted = event.clipboardData?.getData('text') ?? ''
  const whole = input.selectionStart === 0 && input.selectionEnd === input.value.length
  if (!whole) return
  event.preventDefault()
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
onMounted(() => field.value?.focus())
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <div>
    <VTextField
      ref="field"
      v-model="destination"
      label="Destination"
      class="mono"
      placeholder="https://www.example/page"
      :error-messages="fault"
      autocomplete="off"
      spellcheck="false"
      inputmode="url"
      @paste="paste"
      @blur="tidy(destination)"
    />
    <p v-if="tidied" class="told text-info" role="status">{{ tidied }}</p>
    <p v-if="twins.length" class="told" role="status">
      <StateMark state="doubtful" /> This destination already has a short address:
      <template v-for="(twin, index) in twins" :key="twin.id"
        ><template v-if="index">, </template
        ><NuxtLink :to="`/links/${twin.id}`" target="_blank" class="mono twin">{{ twin.address }}</NuxtLink></template
      >.
    </p>
  </div>
</template>

<style scoped>
.told {
  margin: 4px 0 0;
  font-size: 13px;
}
.twin {
  color: rgb(var(--v-theme-primary));
  font-weight: 600;
}
</style>
