<script setup lang="ts">
import { computed } from 'vue'
import { TRIAL_SECONDS } from '~~/core/domain/hsts'
import type { Domain } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const session = useSessionStore()
const form = useDomainForm(['httpsOnly', 'hstsSeconds'])
const { fields, faults, save } = form
const { short } = useMoments()
const mayChange = computed(() => session.may('administrator'))
const DAY = 86_400
const CHOICES = [
  { value: null, title: 'Never said' },
  { value: 0, title: 'Take it back (max-age=0)' },
  { value: 300, title: 'Trial: 5 minutes' },
  { value: DAY, title: 'Trial: a day' },
  { value: TRIAL_SECONDS, title: 'Trial: a week' },
  { value: 365 * DAY, title: 'A year' },
  { value: 730 * DAY, title: 'Two years' },
]
const choices = computed(() =>
  CHOICES.some(({ value }) => value === fields.hstsSeconds)
    ? CHOICES
    : [...CHOICES, { value: fields.hstsSeconds, title: `${fields.hstsSeconds} seconds` }],
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
        label="Send who comes by http to https"
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
      label="Have browsers come by https alone (HSTS)"
      :readonly="!mayChange"
      :error-messages="faults.hstsSeconds"
    />
    <VAlert v-if="(fields.hstsSeconds ?? 0) > 0" type="warning" variant="tonal" density="compact">
      A browser that was told so cannot be told otherwise over http: should the certificate lapse, every printed address
      is dead in it until the time is over. More than a week comes after a week of trial{{
        domain.hstsSince ? `; this one runs since ${short(domain.hstsSince)}` : ''
      }}.
    </VAlert>
    <FormFoot :form="form" what="domain" :may-change="mayChange" />
  </form>
</template>
