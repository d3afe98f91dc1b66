<script setup lang="ts">
import { computed } from 'vue'
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
const PERMANENCE =
  'How long browsers keep a permanent redirect. Until then, visitors who came before do not see a changed ' +
  'destination.'
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
      hint="Destination of the bare domain. If empty: a short built-in page."
      persistent-hint
      :error-messages="faults.rootDestination"
    />
    <VTextField
      v-model="fields.notFoundDestination"
      class="mono"
      label="Not found"
      :readonly="!mayChange"
      :placeholder="SCHEME"
      hint="Destination of unknown addresses. If empty: the Not found page (404)."
      persistent-hint
      :error-messages="faults.notFoundDestination"
    />
    <VTextField
      v-model="fields.endedDestination"
      class="mono"
      label="Ended"
      :readonly="!mayChange"
      :placeholder="SCHEME"
      hint="Destination of ended links without their own. If empty: the Ended page (410)."
      persistent-hint
      :error-messages="faults.endedDestination"
    />
    <h2 class="mt-2">Redirects</h2>
    <VSelect
      v-model="fields.defaultStatus"
      :items="STATUSES"
      label="Default redirect type"
      :readonly="!mayChange"
      :error-messages="faults.defaultStatus"
    />
    <DurationField
      v-model="fields.permanenceSeconds"
      label="Permanence window"
      :max="31536000"
      :readonly="!mayChange"
      :error-messages="faults.permanenceSeconds"
      persistent-hint
      :hint="PERMANENCE"
    />
    <FormFoot :form="form" what="domain" :may-change="mayChange" />
  </form>
</template>
