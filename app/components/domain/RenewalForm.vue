<script setup lang="ts">
import { computed } from 'vue'
import type { Domain } from '~~/core/schemas'
import { fiveYearTotal } from '~~/core/domain/renewal'

defineProps<{ domain: Domain }>()
const session = useSessionStore()
const form = useDomainForm(['registrar', 'expiresOn', 'firstYearPrice', 'yearlyPrice', 'currency', 'privacy'])
const { fields, faults, save } = form
const mayChange = computed(() => session.may('administrator'))
const money = (amount: number) => {
  try {
    return new Intl.NumberFormat('en', { style: 'currency', currency: fields.currency }).format(amount)
  } catch {
    return `${amount.toFixed(2)} ${fields.currency}`
  }
}
const total = computed(() => fiveYearTotal(fields.firstYearPrice, fields.yearlyPrice))
const left = computed(() =>
  fields.expiresOn ? Math.ceil((Date.parse(fields.expiresOn) - Date.now()) / 86_400_000) : undefined,
)
const PRIVACY = [
  { value: 'on', title: 'On: the registry shows the registrar’s address' },
  { value: 'off', title: 'Off: the registry shows yours' },
  { value: 'unknown', title: 'Not known' },
]
</script>

<template>
  <form class="form-page field-column" novalidate @submit.prevent="save">
    <h2>Renewal</h2>
    <p class="soft">
      If the registration of {{ domain.shown }} expires, all its addresses stop working. Cases open 60, 30 and 7 days
      before.
    </p>
    <VTextField
      v-model="fields.registrar"
      label="Registrar"
      maxlength="120"
      :readonly="!mayChange"
      :error-messages="faults.registrar"
    />
    <DateField
      :model-value="fields.expiresOn"
      kind="day"
      label="Expires on"
      :readonly="!mayChange"
      :error-messages="faults.expiresOn"
      @update:model-value="fields.expiresOn = $event || null"
    />
    <p v-if="left !== undefined">
      <StateMark :state="left <= 7 ? 'broken' : left <= 60 ? 'doubtful' : 'sound'" />
      {{ left < 0 ? `Expired ${-left} days ago` : `${left} days left` }}
    </p>
    <div class="prices">
      <VNumberInput
        v-model="fields.firstYearPrice"
        label="First-year price"
        :min="0"
        :precision="2"
        clearable
        :readonly="!mayChange"
        :error-messages="faults.firstYearPrice"
      />
      <VNumberInput
        v-model="fields.yearlyPrice"
        label="Yearly price"
        :min="0"
        :precision="2"
        clearable
        :readonly="!mayChange"
        :error-messages="faults.yearlyPrice"
      />
      <VTextField
        v-model="fields.currency"
        class="mono"
        label="Currency"
        maxlength="3"
        :readonly="!mayChange"
        :error-messages="faults.currency"
      />
    </div>
    <p v-if="total !== undefined" role="status">
      <b>{{ money(total) }} for five years</b>, {{ money(total / 5) }} a year<template
        v-if="
          fields.firstYearPrice !== null && fields.yearlyPrice !== null && fields.yearlyPrice > fields.firstYearPrice
        "
        >; only {{ money(fields.firstYearPrice) }} in the first year</template
      >.
    </p>
    <p v-else class="soft">Give both prices to see what five years cost.</p>
    <VSelect
      v-model="fields.privacy"
      :items="PRIVACY"
      label="Registration privacy"
      :readonly="!mayChange"
      :error-messages="faults.privacy"
    />
    <FormFoot :form="form" what="domain" :may-change="mayChange" />
  </form>
</template>

<style scoped>
.prices {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  gap: 10px;
}
</style>
