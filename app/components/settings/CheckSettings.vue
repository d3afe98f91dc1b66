<script setup lang="ts">
const form = useCheckSettingsForm()
const { fields, faults } = form
const { problem, ready, load, save } = useOpenedSettings(form, 'how destinations are checked')
</script>

<template>
  <section aria-labelledby="check-settings-title">
    <h1 id="check-settings-title">Destination checks</h1>
    <p class="soft mb-4">
      Fides checks every destination signed out: busy ones hourly, quiet ones weekly, doubtful ones sooner.
    </p>
    <VAlert v-if="problem" type="error" variant="tonal" density="compact"
      >{{ problem }} <VBtn variant="text" @click="load">Try again</VBtn></VAlert
    >
    <form v-else class="field-column" :inert="!ready" novalidate @submit.prevent="save">
      <h2>Threshold for broken</h2>
      <div class="pair">
        <VTextField
          v-model="fields.brokenAfter"
          inputmode="numeric"
          label="Failed checks in a row"
          hint="Until then it counts as doubtful and no case opens."
          persistent-hint
          :error-messages="faults.brokenAfter"
        />
        <VTextField
          v-model="fields.brokenOverMinutes"
          inputmode="numeric"
          label="Minimum duration (minutes)"
          hint="Prevents a case for a short outage."
          persistent-hint
          :error-messages="faults.brokenOverMinutes"
        />
      </div>
      <h2>Rate limits</h2>
      <div class="pair">
        <VTextField
          v-model="fields.checkPerHost"
          inputmode="numeric"
          label="Concurrent requests per host"
          :error-messages="faults.checkPerHost"
        />
        <VTextField
          v-model="fields.checkPerSecond"
          inputmode="decimal"
          label="Requests a second to one host"
          hint="0.5 is one every two seconds."
          persistent-hint
          :error-messages="faults.checkPerSecond"
        />
      </div>
      <VTextField
        v-model="fields.checkContact"
        label="Contact for site owners"
        hint="An e-mail or web address; it is sent with every check."
        persistent-hint
        :error-messages="faults.checkContact"
      />
      <h2>Private networks</h2>
      <VTextarea
        v-model="fields.checkNetworks"
        class="mono"
        rows="3"
        auto-grow
        label="Private networks to check, one per line"
        hint="Private addresses are not checked unless listed here. Visitors outside your network cannot reach them."
        persistent-hint
        :error-messages="faults.checkNetworks"
      />
      <FormFoot :form="form" what="settings" :may-change="true" />
    </form>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 14px;
  max-width: 620px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 14px;
  align-items: start;
}
</style>
