<script setup lang="ts">
import { computed } from 'vue'
import type { Link } from '~~/core/schemas'

const query = defineModel<Link['query']>('query', { required: true })
const conflict = defineModel<Link['queryConflict']>('conflict', { required: true })
const CHOICES = [
  { value: 'discard', title: 'Drop what the visitor’s address has after “?”' },
  { value: 'destination', title: 'Carry it on; where both have a parameter, the destination’s stays' },
  { value: 'visitor', title: 'Carry it on; where both have a parameter, the visitor’s stays' },
  { value: 'both', title: 'Carry it on; where both have a parameter, keep both' },
]
const choice = computed({
  get: () => (query.value === 'discard' ? 'discard' : conflict.value),
  set: (value) => {
    query.value = value === 'discard' ? 'discard' : 'carry'
    if (value !== 'discard') conflict.value = value as Link['queryConflict']
  },
})
</script>

<template>
  <VSelect v-model="choice" :items="CHOICES" label="Query" />
</template>
