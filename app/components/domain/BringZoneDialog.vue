<script setup lang="ts">
import { ref, watch } from 'vue'
import type { ZoneView } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const open = defineModel<boolean>({ required: true })
const store = useDomainStore()
const notice = useNotice()
const text = ref('')
const file = ref<File>()
const server = ref('')
const faults = ref<string[]>([])
const busy = ref(false)
const draft = useDraft(`zone of ${store.domain!.id}`, { text, server })
draft.resume()
watch(open, (is) => is && (faults.value = []))
watch([text, file, server], () => (faults.value = []))

async function work(task: () => Promise<ZoneView>) {
  busy.value = true
  faults.value = []
  try {
    const told = await task()
    notice.tell(
      `Read the zone ${told.origin}: ${told.records.toLocaleString('en')} records, ${told.findings.length} findings`,
    )
    draft.forget()
    draft.resume()
    open.value = false
  } catch (error) {
    const problem = error instanceof ApiProblem ? error.problem : undefined
    faults.value = problem?.errors?.length
      ? problem.errors.slice(0, 12).map((fault) => fault.detail)
      : [(error as Error).message]
  } finally {
    busy.value = false
  }
}
const id = () => store.domain!.id
const bring = () => work(() => store.bringZone(id(), file.value ?? text.value))
const transfer = () => work(() => store.transferZone(id(), server.value.trim() || undefined))
const ask = () => work(() => store.askForZone(id()))
</script>

<template>
  <VDialog v-model="open" max-width="720" aria-labelledby="bring-title">
    <VCard class="pa-5">
      <div class="d-flex flex-column ga-4 field-column">
        <h1 id="bring-title">Read the zone of {{ store.domain?.shown }}</h1>
        <p class="soft">Fides uses it to calculate the effect of the change. Nothing is written to the zone.</p>
        <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="bring">
          <h2>As a zone file</h2>
          <VFileInput v-model="file" label="Zone file (RFC 1035 §5)" accept=".zone,.db,.txt,text/dns,text/plain" />
          <VTextarea
            v-model="text"
            class="zone"
            label="Or paste it"
            rows="6"
            :disabled="file !== undefined && file !== null"
            spellcheck="false"
          />
          <VBtn type="submit" color="primary" variant="flat" class="align-self-start" :loading="busy"
            >Read the file</VBtn
          >
        </form>
        <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="transfer">
          <h2>By zone transfer</h2>
          <VTextField
            v-model="server"
            class="mono"
            label="Name server (empty: those of the zone)"
            placeholder="192.0.2.53"
          />
          <div class="d-flex flex-wrap ga-2">
            <VBtn type="submit" :loading="busy">Transfer zone</VBtn
            ><VBtn :loading="busy" @click="ask">Query public records only</VBtn>
          </div>
        </form>
        <VAlert v-if="faults.length > 0" type="error" variant="tonal" density="compact"
          ><p v-for="fault in faults" :key="fault">{{ fault }}</p></VAlert
        >
        <VBtn class="align-self-start" @click="open = false">Close</VBtn>
      </div>
    </VCard>
  </VDialog>
</template>

<style scoped>
.zone :deep(textarea) {
  font-family: var(--fides-mono);
  font-size: 13px;
}
</style>
