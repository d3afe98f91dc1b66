<script setup lang="ts">
import { computed } from 'vue'
import { span } from '~/composables/domain-words'
import type { Domain } from '~~/core/schemas'

defineProps<{ domain: Domain }>()
const session = useSessionStore()
const form = useDomainForm([
  'rootDestination',
  'notFoundDestination',
  'endedDestination',
  'permanenceSeconds',
  'defaultStatus',
])
const { fields, faults, save } = form
const mayChange = computed(() => session.may('administrator'))
const permanence = computed(
  () =>
    `How long a browser may keep a permanent answer: ${span((fields.permanenceSeconds ?? 0) * 1000)}. ` +
    'Until then a changed destination is not seen by those who came before.',
)
const SCHEME = 'https://'
const STATUSES = [
  { value: 302, title: '302, temporary' },
  { value: 307, title: '307, temporary, method kept' },
  { value: 303, title: '303, see other' },
  { value: 301, title: '301, permanent' },
  { value: 308, title: '308, permanent, method kept' },
]
</script>

<template>
  <form class="form-page field-column" novalidate @submit.prevent="save">
    <h2>Fallbacks</h2>
    <VTextField
      v-model="fields.rootDestination"
      class="mono"
      label="Root"
      :readonly="!mayChange"
      :placeholder="SCHEME"
      hint="Where the bare domain leads. Empty: a small page of our own."
      persistent-hint
      :error-messages="faults.rootDestination"
    />
    <VTextField
      v-model="fields.notFoundDestination"
      class="mono"
      label="Not found"
      :readonly="!mayChange"
      :placeholder="SCHEME"
      hint="Where addresses nobody made lead. Empty: a page that says so, with status 404."
      persistent-hint
      :error-messages="faults.notFoundDestination"
    />
    <VTextField
      v-model="fields.endedDestination"
      class="mono"
      label="Ended"
      :readonly="!mayChange"
      :placeholder="SCHEME"
      hint="Where ended links lead that name no address of their own. Empty: a page that says so, with status 410."
      persistent-hint
      :error-messages="faults.endedDestination"
    />
    <h2 class="mt-2">Redirects</h2>
    <VSelect
      v-model="fields.defaultStatus"
      :items="STATUSES"
      label="Usual redirect of new links"
      :readonly="!mayChange"
      :error-messages="faults.defaultStatus"
    />
    <VNumberInput
      v-model="fields.permanenceSeconds"
      label="Permanence window (seconds)"
      :min="0"
      :max="31536000"
      :readonly="!mayChange"
      :error-messages="faults.permanenceSeconds"
      persistent-hint
      :hint="permanence"
    />
    <FormFoot :form="form" what="domain" :may-change="mayChange" />
  </form>
</template>
