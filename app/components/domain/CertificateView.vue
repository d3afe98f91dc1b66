<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { Domain } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useDomainStore()
const { short } = useMoments()
const fault = ref('')
const busy = ref(false)
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
          <StateMark :state="store.certificate.caa.allowed ? 'sound' : 'broken'" /> {{ store.certificate.caa.sentence }}
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
      <div v-if="store.certificate.served">
        <h3>What the front serves now</h3>
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
    <VBtn class="align-self-start" :loading="busy" @click="look">Look again</VBtn>
  </section>
</template>

<style scoped>
.view {
  max-width: 720px;
}
dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  gap: 2px 10px;
  margin: 6px 0;
}
</style>
