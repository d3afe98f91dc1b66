<script setup lang="ts">
const emit = defineEmits<{ saved: [] }>()
const form = usePrivacyForm()
const { fields, faults } = form
const { problem, ready, load, save } = useOpenedSettings(form, 'what is kept of visitors')
const HINTS = {
  days:
    'Longer: facets can be combined further back, and past requests replayed. Shorter: less is kept of anybody. ' +
    'Daily totals are kept permanently.',
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
  <form v-else class="field-column" :inert="!ready" novalidate @submit.prevent="saveAll">
    <VTextField
      v-model="fields.visitDays"
      inputmode="numeric"
      label="Keep visit records for (days)"
      :hint="HINTS.days"
      persistent-hint
      :error-messages="faults.visitDays"
    />
    <VTextField
      v-model="fields.fewPeople"
      inputmode="numeric"
      label="Minimum people per country"
      hint="Countries with fewer are shown together as “Other countries”. Recommended: 5. With 1, all are shown."
      persistent-hint
      :error-messages="faults.fewPeople"
    />
    <VSwitch
      v-model="fields.honourGpc"
      color="primary"
      label="Honour Sec-GPC"
      hint="Visits with Sec-GPC: 1 are counted as visits, not as people."
      persistent-hint
    />
    <VSwitch
      v-model="fields.keepNetwork"
      color="primary"
      label="Store network prefix"
      :hint="HINTS.network"
      persistent-hint
    />
    <FormFoot :form="form" what="settings" :may-change="true" />
  </form>
</template>
