<script setup lang="ts">
const form = useCheckSettingsForm()
const { fields, faults } = form
const { problem, load, save } = useOpenedSettings(form, 'how destinations are checked')
</script>

<template>
  <section aria-labelledby="check-settings-title">
    <h1 id="check-settings-title">How destinations are checked</h1>
    <p class="soft mb-4">
      Every link’s destination is asked as a stranger would ask it: busy ones hourly, quiet ones weekly, those in doubt
      soon again.
    </p>
    <VAlert v-if="problem" type="error" variant="tonal" density="compact"
      >{{ problem }} <VBtn variant="text" @click="load">Try again</VBtn></VAlert
    >
    <form v-else class="field-column" novalidate @submit.prevent="save">
      <h2>When one counts as broken</h2>
      <div class="pair">
        <VTextField
          v-model="fields.brokenAfter"
          inputmode="numeric"
          label="Failed checks in a row"
          hint="Until then it is in doubt, and opens no case."
          persistent-hint
          :error-messages="faults.brokenAfter"
        />
        <VTextField
          v-model="fields.brokenOverMinutes"
          inputmode="numeric"
          label="Over at least so many minutes"
          hint="So that one bad hour of a server is no case."
          persistent-hint
          :error-messages="faults.brokenOverMinutes"
        />
      </div>
      <h2>Politeness</h2>
      <div class="pair">
        <VTextField
          v-model="fields.checkPerHost"
          inputmode="numeric"
          label="Requests at once to one host"
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
        label="Whom a host’s owner may turn to"
        hint="An e-mail or web address; it is sent with every check."
        persistent-hint
        :error-messages="faults.checkContact"
      />
      <h2>Networks of your own</h2>
      <VTextarea
        v-model="fields.checkNetworks"
        class="mono"
        rows="3"
        auto-grow
        label="Private networks that may be asked, one a line"
        hint="Addresses only your own network reaches are not asked unless listed here; strangers cannot go there."
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
