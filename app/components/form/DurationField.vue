<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { durationWords, readTypedDuration } from '~~/core/time/typed-duration'

/** A duration in seconds, typed as people write it: `7 days`, `1 h 30 min`. */
const {
  modelValue,
  min = 0,
  max,
  errorMessages = '',
} = defineProps<{
  modelValue: number | null | undefined
  min?: number
  max: number
  errorMessages?: string | string[]
}>()
const emit = defineEmits<{ 'update:modelValue': [seconds: number] }>()
defineOptions({ inheritAttrs: false })
const typed = ref('')
const isUsed = ref(false)
const read = computed(() => readTypedDuration(typed.value))
const fault = computed(() => {
  if (isUsed.value) return ''
  if (read.value === undefined) return 'Enter a duration with its unit, like 7 days, 12 hours or 1 h 30 min.'
  if (read.value < min || read.value > max) return `Enter ${durationWords(min)} to ${durationWords(max)}.`
  return ''
})

watch(
  () => modelValue ?? 0,
  (seconds) => {
    if (Number.isFinite(seconds) && seconds !== read.value) typed.value = durationWords(seconds)
  },
  { immediate: true },
)

function type(text: string | null): void {
  typed.value = text ?? ''
  // NaN is refused when the form is saved.
  emit('update:modelValue', read.value ?? NaN)
}
function leave(): void {
  isUsed.value = false
  if (read.value !== undefined) typed.value = durationWords(read.value)
}
</script>

<template>
  <VTextField
    v-bind="$attrs"
    :model-value="typed"
    :error-messages="fault || errorMessages"
    autocomplete="off"
    @update:model-value="type"
    @focus="isUsed = true"
    @blur="leave"
  />
</template>
