<script setup lang="ts">
import type { QueryPart } from '~~/core/conditions'

const part = defineModel<QueryPart>({ required: true })
const MODES = [
  { value: 'contains', title: 'Query contains' },
  { value: 'exactly', title: 'Query is exactly (any order)' },
]
</script>

<template>
  <div class="d-flex flex-column ga-2">
    <VSelect
      :model-value="part.mode"
      :items="MODES"
      label="Query of the address"
      @update:model-value="part = { ...part, mode: $event }"
    />
    <VTextField
      :model-value="part.text"
      class="mono"
      label="Parameters"
      placeholder="line=4&lang"
      maxlength="500"
      hint="A name alone stands for any value."
      persistent-hint
      @update:model-value="part = { ...part, text: $event }"
    />
  </div>
</template>
