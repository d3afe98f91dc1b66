<script setup lang="ts">
import { ref } from 'vue'

/** Copies a text: `what` it is, in one or two words, is told once it is done. */
const { text, what, label = 'Copy' } = defineProps<{ text: string; what: string; label?: string }>()
const notice = useNotice()
const problem = ref('')
async function copy() {
  try {
    await navigator.clipboard.writeText(text)
    problem.value = ''
    notice.tell(label === 'Copy' ? `Copied the ${what}: ${text}` : `Copied the ${what}.`)
  } catch {
    problem.value = 'The browser does not allow copying here. Select the text instead.'
  }
}
</script>

<template>
  <span>
    <VBtn size="x-small" :aria-label="label === 'Copy' ? `Copy the ${what} ${text}` : undefined" @click="copy">{{
      label
    }}</VBtn>
    <span v-if="problem" class="text-error" role="alert"> {{ problem }}</span>
  </span>
</template>
