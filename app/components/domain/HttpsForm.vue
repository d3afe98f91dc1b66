<script setup lang="ts">
import { computed } from 'vue'
import { TRIAL_SECONDS } from '~~/core/domain/hsts'
import type { Domain } from '~~/core/schemas'
import { durationWords } from '~~/core/time/typed-duration'

const { domain } = defineProps<{ domain: Domain }>()
const session = useSessionStore()
const form = useDomainForm(['httpsOnly', 'hstsSeconds'])
const { fields, faults, save } = form
const { short } = useMoments()
const mayChange = computed(() => session.may('administrator'))
const DAY = 86_400
const CHOICES = [
  { value: null, title: 'Off' },
  { value: 0, title: 'Revoke (max-age=0)' },
  { value: 300, title: 'Trial: 5 minutes' },
  { value: DAY, title: 'Trial: a day' },
  { value: TRIAL_SECONDS, title: 'Trial: a week' },
  { value: 365 * DAY, title: 'A year' },
  { value: 730 * DAY, title: 'Two years' },
]
const choices = computed(() =>
  CHOICES.some(({ value }) => value === fields.hstsSeconds)
    ? CHOICES
    : [...CHOICES, { value: fields.hstsSeconds, title: durationWords(fields.hstsSeconds ?? 0) }],
)
</script>

<template>
  <form class="d-flex flex-column ga-3 field-column align-self-start" novalidate @submit.prevent="save">
    <h2>HTTP and HTTPS</h2>
    <div>
      <VSwitch
        v-model="fields.httpsOnly"
        density="compact"
        color="primary"
        label="Redirect http to https"
        :disabled="!mayChange"
        :error-messages="faults.httpsOnly"
        hide-details="auto"
        aria-describedby="https-only"
      />
      <p id="https-only" class="soft">
        Before anything else is answered, with 308, kept for the domain’s permanence window. Switch it on once the
        certificate is sound.
      </p>
    </div>
    <VSelect
      v-model="fields.hstsSeconds"
      :items="choices"
      label="HSTS (https only)"
      :readonly="!mayChange"
      :error-messages="faults.hstsSeconds"
    />
    <VAlert v-if="(fields.hstsSeconds ?? 0) > 0" type="warning" variant="tonal" density="compact">
      Browsers remember this setting. If the certificate expires, they refuse every address on the domain until the
      period ends. Periods over 1 week require a trial of 1 week first{{
        domain.hstsSince ? `; this one runs since ${short(domain.hstsSince)}` : ''
      }}.
    </VAlert>
    <FormFoot :form="form" what="domain" :may-change="mayChange" />
  </form>
</template>
