<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import type { Domain } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useDomainStore()
const { short } = useMoments()
const fault = ref('')
const busy = ref(false)
const EVENTS = {
  obtaining: { words: 'Requested', state: 'idle' },
  obtained: { words: 'Issued', state: 'sound' },
  renewing: { words: 'Renewal started', state: 'idle' },
  renewed: { words: 'Renewed it', state: 'sound' },
  failed: { words: 'Failed', state: 'broken' },
} as const
const visibility = useDocumentVisibility()
/** Whether something is still to come of the front: then it is shown as it happens, while somebody looks. */
const pending = computed(() => {
  const { front, served, events } = store.certificate ?? {}
  return front && (!served?.answered || ['obtaining', 'renewing', 'failed'].includes(events?.[0]?.kind ?? ''))
})
useIntervalFn(() => {
  if (pending.value && visibility.value === 'visible' && !busy.value)
    void store.readCertificate(domain.id).catch(() => undefined)
}, 5000)
async function look() {
  busy.value = true
  fault.value = ''
  try {
    await store.readCertificate(domain.id)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
onMounted(look)
</script>

<template>
  <div class="columns">
    <section class="form-page view" aria-labelledby="certificate-title">
      <h2 id="certificate-title">Certificate</h2>
      <VAlert v-if="fault" type="error" variant="tonal" density="compact">{{ fault }}</VAlert>
      <template v-if="store.certificate">
        <div>
          <h3>Names that need one</h3>
          <p v-for="name in store.certificate.names" :key="name.name">
            <b class="mono">{{ name.name }}</b> <span class="soft">{{ name.why }}</span>
          </p>
        </div>
        <div>
          <h3>What CAA allows</h3>
          <p v-if="store.certificate.caa">
            <StateMark :state="store.certificate.caa.allowed ? 'sound' : 'broken'" />
            {{ store.certificate.caa.sentence }}
            <template v-if="!store.certificate.caa.allowed && store.certificate.front">
              The front does not try meanwhile: failed tries count against the authority’s limits.</template
            >
          </p>
          <p v-else class="soft">Not asked yet.</p>
          <p class="soft">
            {{
              store.certificate.issuers.length > 0
                ? `The front’s issuer: ${store.certificate.issuers.join(', ')}.`
                : 'Which issuer the front uses is not set (FIDES_CERTIFICATE_ISSUERS), so CAA is not judged for it.'
            }}
          </p>
        </div>
        <div>
          <h3>Reachability for validation</h3>
          <p v-if="store.certificate.reach">
            <StateMark :state="store.certificate.reach.ok ? 'sound' : 'broken'" />
            {{ store.certificate.reach.sentence }}
          </p>
          <p v-else class="soft">Not tried yet: the name must lead to this gateway’s front first.</p>
        </div>
        <div>
          <h3>Certificate events</h3>
          <p v-if="!store.certificate.front" class="soft">
            TLS is terminated by another proxy, so its certificate events are not available. See “HTTPS” in the
            operator’s guide.
          </p>
          <p v-else-if="store.certificate.events.length === 0" class="soft">
            No events yet. A certificate is requested automatically on the first https visit after the domain opens.
          </p>
          <ol v-else class="events" aria-live="polite">
            <li v-for="event in store.certificate.events" :key="event.at + event.kind">
              <StateMark :state="EVENTS[event.kind].state" /> {{ EVENTS[event.kind].words
              }}{{ event.detail ? `: ${event.detail}` : '' }}, {{ short(event.at) }}
            </li>
          </ol>
        </div>
        <div v-if="store.certificate.served">
          <h3>Current certificate</h3>
          <p>
            <StateMark
              :state="store.certificate.served.answered && !store.certificate.served.fault ? 'sound' : 'broken'"
            />
            {{ store.certificate.served.sentence }}
          </p>
          <dl v-if="store.certificate.served.answered">
            <dt>For</dt>
            <dd class="mono">{{ store.certificate.served.names.join(', ') || store.certificate.served.subject }}</dd>
            <dt>By</dt>
            <dd>{{ store.certificate.served.issuer }}</dd>
            <dt>Good</dt>
            <dd>
              {{ store.certificate.served.validFrom?.slice(0, 10) }} to
              {{ store.certificate.served.validTo?.slice(0, 10) }}
            </dd>
          </dl>
          <p class="soft">Looked {{ short(store.certificate.served.at) }}.</p>
        </div>
      </template>
      <VBtn class="align-self-start" :loading="busy" @click="look">Check again</VBtn>
    </section>
    <HttpsForm :domain="domain" class="view" />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 28px 48px;
}
.view {
  max-width: 720px;
}
@media (min-width: 1100px) {
  .columns {
    grid-template-columns: minmax(0, 720px) minmax(0, 480px);
  }
}
dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  gap: 2px 10px;
  margin: 6px 0;
}
.events {
  padding-left: 0;
  list-style: none;
}
</style>
