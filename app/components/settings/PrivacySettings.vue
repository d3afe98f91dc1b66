<script setup lang="ts">
const emit = defineEmits<{ saved: [] }>()
const form = usePrivacyForm()
const { fields, faults } = form
const { problem, load, save } = useOpenedSettings(form, 'what is kept of visitors')
const HINTS = {
  days:
    'Longer: facets can be combined further back, and past requests replayed. Shorter: less is kept of anybody. ' +
    'Sums by day stay for good.',
  network:
    'The address cut to /24 or /48, with each single visit. It helps to find who sends odd requests, and says more ' +
    'of people than most pages need. Off: no address is ever kept.',
}
const saveAll = async () => (await save()) && emit('saved')
</script>

<template>
  <VAlert v-if="problem" type="error" variant="tonal" density="compact"
    >{{ problem }} <VBtn variant="text" @click="load">Try again</VBtn></VAlert
  >
  <form v-else class="field-column" novalidate @submit.prevent="saveAll">
    <VTextField
      v-model="fields.visitDays"
      inputmode="numeric"
      label="Single visits are kept for so many days"
      :hint="HINTS.days"
      persistent-hint
      :error-messages="faults.visitDays"
    />
    <VTextField
      v-model="fields.fewPeople"
      inputmode="numeric"
      label="Countries of fewer people than this are put together"
      hint="5 is usual: with fewer, somebody who knows a visitor might make them out. 1 tells all countries apart."
      persistent-hint
      :error-messages="faults.fewPeople"
    />
    <VSwitch
      v-model="fields.honourGpc"
      color="primary"
      label="Honour Sec-GPC"
      hint="Who asks not to be tracked is counted without a token: as a visit, not as a person."
      persistent-hint
    />
    <VSwitch
      v-model="fields.keepNetwork"
      color="primary"
      label="Keep the visitor’s network"
      :hint="HINTS.network"
      persistent-hint
    />
    <FormFoot :form="form" what="settings" :may-change="true" />
  </form>
</template>
