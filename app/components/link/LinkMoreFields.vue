<script setup lang="ts">
import { REFERRER_POLICIES } from '~~/core/rows/link'
import type { LinkFields } from '~/composables/useLinkForm'

const { faults } = defineProps<{ faults: Record<string, string> }>()
const fields = defineModel<LinkFields>('fields', { required: true })
const set = <Name extends keyof LinkFields>(name: Name, value: LinkFields[Name]) =>
  Object.assign(fields.value, { [name]: value ?? (name === 'referrerPolicy' ? null : '') })
const { zone } = useMoments()
const POLICIES = [
  { value: null, title: 'As the browser does' },
  ...REFERRER_POLICIES.map((policy) => ({ value: policy, title: policy })),
]
</script>

<template>
  <div class="more field-column">
    <div class="pair">
      <VTextField
        :model-value="fields.startsAt"
        type="datetime-local"
        :label="`Starts (${zone()})`"
        :error-messages="faults.startsAt"
        @update:model-value="set('startsAt', $event)"
      />
      <VTextField
        :model-value="fields.endsAt"
        type="datetime-local"
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
      hint="Empty: the domain’s ended-address, else a page saying it is over."
      persistent-hint
      @update:model-value="set('endedDestination', $event)"
    />
    <VCheckbox
      :model-value="fields.unlisted"
      label="Unlisted"
      hint="Strangers who mistype another address are never told of it."
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
.more,
.pair {
  display: flex;
  gap: 12px;
}
.more {
  flex-direction: column;
}
.pair {
  flex-wrap: wrap;
}
.pair > * {
  flex: 1 1 240px;
}
</style>
