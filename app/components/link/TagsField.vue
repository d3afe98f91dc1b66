<script setup lang="ts">
import { onMounted, ref } from 'vue'

const { fault = undefined } = defineProps<{ fault?: string }>()
const tags = defineModel<string[]>({ required: true })
const known = ref<string[]>([])
onMounted(
  async () =>
    (known.value = await useLinkStore()
      .tags()
      .catch(() => [])),
)
</script>

<template>
  <VCombobox
    v-model="tags"
    :items="known"
    label="Tags"
    multiple
    chips
    closable-chips
    :error-messages="fault"
    :delimiters="[',']"
    hint="Press Enter or comma after each tag."
  />
</template>
