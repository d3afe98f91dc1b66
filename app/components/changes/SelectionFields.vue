<script setup lang="ts">
import { computed } from 'vue'
import type { SelectBy } from '~/composables/useChangeForm'

/** Which links a change is for. */
const { links, filters, faults } = defineProps<{
  links: readonly number[]
  filters: Record<string, string>
  faults: Record<string, string>
}>()
const by = defineModel<SelectBy>('by', { required: true })
const host = defineModel<string>('host', { required: true })
const addresses = defineModel<string>('addresses', { required: true })
const filterWords = computed(() =>
  Object.entries(filters)
    .map(([name, value]) => (name === 'q' ? `“${value}”` : `${name} ${value}`))
    .join(', '),
)
</script>

<template>
  <fieldset class="which">
    <legend><h2>Which links</h2></legend>
    <VRadioGroup v-model="by" aria-label="Which links" hide-details>
      <VRadio
        v-if="links.length > 0"
        value="links"
        :label="links.length === 1 ? 'The one selected' : `The ${links.length} selected`"
      />
      <VRadio v-if="filterWords" value="filters" :label="`All the register shows for ${filterWords}`" />
      <VRadio value="host" label="All that lead to a host" />
      <VRadio value="addresses" label="Short addresses from a list" />
    </VRadioGroup>
    <VTextField
      v-if="by === 'host'"
      v-model="host"
      class="mono"
      label="Host"
      placeholder="www.example"
      :error-messages="faults['select/host']"
    />
    <VTextarea
      v-if="by === 'addresses'"
      v-model="addresses"
      class="mono"
      label="Addresses, one a line"
      rows="6"
      :error-messages="faults['select/addresses']"
    />
  </fieldset>
</template>

<style scoped>
.which {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin: 0;
  border: 0;
}
</style>
