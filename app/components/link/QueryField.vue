<script setup lang="ts">
import { computed } from 'vue'
import type { Redirect } from '~~/core/rows'
import { QUERY_CHOICES, queryChoice } from '~/composables/query-words'

/** What becomes of the visitor’s query, of a link or a rule. */
const redirect = defineModel<Omit<Redirect, 'status'>>({ required: true })
const choice = computed({
  get: () => queryChoice(redirect.value),
  set: (value) => {
    const found = QUERY_CHOICES.find((one) => one.value === value)
    if (found) redirect.value = found.redirect
  },
})
</script>

<template>
  <VSelect v-model="choice" :items="QUERY_CHOICES" label="Query" />
</template>
