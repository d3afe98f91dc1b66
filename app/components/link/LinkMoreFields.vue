<script setup lang="ts">
import { REFERRER_POLICIES } from '~~/core/rows/link'
import type { LinkFields } from '~/composables/useLinkForm'

const { faults } = defineProps<{ faults: Record<string, string> }>()
const fields = defineModel<LinkFields>('fields', { required: true })
const set = <Name extends keyof LinkFields>(name: Name, value: LinkFields[Name]) =>
  Object.assign(fields.value, { [name]: value ?? (name === 'referrerPolicy' ? null : '') })
const { zone } = useMoments()
const POLICIES = [
  { value: null, title: 'Browser default' },
  ...REFERRER_POLICIES.map((policy) => ({ value: policy, title: policy })),
]
</script>

<template>
  <div class="further field-column">
    <div class="pair">
      <DateField
        :model-value="fields.startsAt"
        kind="moment"
        :label="`Starts (${zone()})`"
        :error-messages="faults.startsAt"
        @update:model-value="set('startsAt', $event)"
      />
      <DateField
        :model-value="fields.endsAt"
        kind="moment"
        :label="`Ends (${zone()})`"
        :error-messages="faults.endsAt"
        @update:model-value="set('endsAt', $event)"
      />
    </div>
    <VTextField
      :model-value="fields.endedDestination"
      label="When ended, send visitors to"
      class="mono"
      :error-messages="faults.endedDestination"
      hint="If empty: the domain’s ended address, otherwise the Ended page."
      persistent-hint
      @update:model-value="set('endedDestination', $event)"
    />
    <VCheckbox
      :model-value="fields.unlisted"
      label="Unlisted"
      hint="Never suggested to visitors on the Not found page."
      persistent-hint
      density="compact"
      @update:model-value="set('unlisted', $event === true)"
    />
    <div class="pair">
      <VTextField
        :model-value="fields.robots"
        label="X-Robots-Tag"
        class="mono"
        placeholder="noindex"
        :error-messages="faults.robots"
        @update:model-value="set('robots', $event)"
      />
      <VSelect
        :model-value="fields.referrerPolicy"
        :items="POLICIES"
        label="Referrer-Policy"
        :error-messages="faults.referrerPolicy"
        @update:model-value="set('referrerPolicy', $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.further,
.pair {
  display: flex;
  gap: 12px;
}
.further {
  flex-direction: column;
}
.pair {
  flex-wrap: wrap;
}
.pair > * {
  flex: 1 1 240px;
}
</style>
