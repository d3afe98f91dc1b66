<script setup lang="ts" generic="Value extends string | number">
/** One of a few choices, all in sight. */
const { choices, chosen } = defineProps<{
  choices: readonly { value: Value; title: string }[]
  chosen: Value | undefined
}>()
const emit = defineEmits<{ choose: [value: Value] }>()
</script>

<template>
  <VBtn
    v-for="choice in choices"
    :key="choice.value"
    size="small"
    :aria-pressed="choice.value === chosen"
    :variant="choice.value === chosen ? 'tonal' : undefined"
    :color="choice.value === chosen ? 'primary' : undefined"
    @click="emit('choose', choice.value)"
    >{{ choice.title }}</VBtn
  >
</template>
