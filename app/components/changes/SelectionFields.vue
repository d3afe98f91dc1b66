<script setup lang="ts">
import { computed } from 'vue'
import { filterWords } from '~/composables/filter-words'
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
const words = computed(() => filterWords(filters))
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
      <VRadio v-if="words" value="filters" :label="`All links in the register: ${words}`" />
      <VRadio value="host" label="Links to a host" />
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
      label="Addresses, one per line"
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
