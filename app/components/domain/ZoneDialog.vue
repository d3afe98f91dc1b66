<script setup lang="ts">
import { typesWhere } from '~~/core/dns/record-types'
import { ref, watch } from 'vue'
import type { LookupView, PlanView } from '~~/core/schemas'

const open = defineModel<boolean>({ required: true })
const { plan } = defineProps<{ plan: PlanView }>()
const store = useDomainStore()
const texts = ref({ before: '', after: '' })
const which = ref<'before' | 'after'>('after')
const name = ref('')
const type = ref('A')
const told = ref<LookupView>()
const fault = ref('')
const TYPES: string[] = typesWhere(({ lookedUp }) => lookedUp)
const CHANGES = { added: 'added', removed: 'removed', changed: 'changed', ttl: 'TTL only' }
watch(
  open,
  async (is) => {
    if (!is) return
    name.value = store.domain!.host
    told.value = undefined
    fault.value = ''
    try {
      const [before, after] = await Promise.all([
        store.zoneText(store.domain!.id, 'before'),
        store.zoneText(store.domain!.id, 'after'),
      ])
      texts.value = { before, after }
    } catch (error) {
      fault.value = (error as Error).message
    }
  },
  { immediate: true },
)
async function look() {
  fault.value = ''
  try {
    told.value = await store.lookUp(store.domain!.id, name.value, type.value)
  } catch (error) {
    fault.value = (error as Error).message
  }
}
const download = (wanted: 'before' | 'after') => `/api/v1/domains/${store.domain!.id}/zone/${wanted}`
</script>

<template>
  <VDialog v-model="open" max-width="980" aria-labelledby="zone-title" scrollable>
    <VCard>
      <VCardText class="pa-5">
        <h1 id="zone-title" class="mb-1">Zone {{ plan.origin }}, before and after</h1>
        <p class="soft mb-3">All other records stay unchanged, byte for byte.</p>
        <h2 class="mb-1">By record set</h2>
        <table class="sets">
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Type</th>
              <th scope="col">Change</th>
              <th scope="col">Before</th>
              <th scope="col">After</th>
            </tr>
          </thead>
          <tbody class="mono">
            <tr v-for="difference in plan.differences" :key="difference.name + difference.type">
              <th scope="row">{{ difference.name }}</th>
              <td>{{ difference.type }}</td>
              <td>{{ CHANGES[difference.change] }}</td>
              <td>
                <div v-for="record in difference.before" :key="record.data">{{ record.ttl }} {{ record.data }}</div>
              </td>
              <td>
                <div v-for="record in difference.after" :key="record.data">{{ record.ttl }} {{ record.data }}</div>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="plan.differences.length === 0" class="soft">No changes</p>

        <h2 class="mt-5 mb-2">What a visitor gets</h2>
        <form class="d-flex flex-wrap ga-2" novalidate @submit.prevent="look">
          <VTextField v-model="name" class="mono name" label="Name" maxlength="300" />
          <VSelect v-model="type" class="type" :items="TYPES" label="Type" />
          <VBtn type="submit" height="40">Compare lookups</VBtn>
        </form>
        <div v-if="told" class="answers mt-2" aria-live="polite">
          <section v-for="side in ['before', 'after'] as const" :key="side" :aria-label="side">
            <h3>{{ side === 'before' ? 'Before' : 'After' }}: {{ told[side].rcode }}</h3>
            <div v-for="record in told[side].answer" :key="record.name + record.type + record.data" class="mono answer">
              {{ record.name }} {{ record.ttl }} {{ record.type }} {{ record.data }}
            </div>
            <p v-if="told[side].answer.length === 0" class="soft">No record.</p>
            <ol class="soft steps">
              <li v-for="step in told[side].steps" :key="step">{{ step }}</li>
            </ol>
          </section>
        </div>
        <VAlert v-if="fault" type="error" variant="tonal" density="compact" class="mt-2">{{ fault }}</VAlert>

        <div class="d-flex flex-wrap align-center ga-2 mt-5 mb-2">
          <h2>Zone file</h2>
          <VBtnToggle v-model="which" density="compact" mandatory variant="outlined" aria-label="Which zone file"
            ><VBtn value="before">Before</VBtn><VBtn value="after">After</VBtn></VBtnToggle
          >
          <VBtn :href="download('after')" :download="`${plan.origin}.zone`">Download the changed zone</VBtn>
        </div>
        <pre class="mono text" tabindex="0" :aria-label="`Zone file, ${which}`">{{ texts[which] }}</pre>
      </VCardText>
      <VCardActions class="px-5 pb-4"><VBtn @click="open = false">Close</VBtn></VCardActions>
    </VCard>
  </VDialog>
</template>

<style scoped>
.sets {
  width: 100%;
  border-spacing: 0;
  font-size: 13px;
}
.sets th,
.sets td {
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  text-align: left;
  vertical-align: top;
}
.sets td:nth-child(n + 4) {
  overflow-wrap: anywhere;
}
.sets td:nth-child(-n + 3) {
  white-space: nowrap;
}
.name {
  flex: 1 1 240px;
}
.type {
  flex: 0 0 110px;
}
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 16px;
}
.answer {
  overflow-wrap: anywhere;
}
.steps {
  margin-top: 6px;
  padding-left: 18px;
  font-size: 13px;
}
.text {
  max-height: 320px;
  padding: 10px;
  overflow: auto;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-background));
  font-size: 12.5px;
  white-space: pre;
}
</style>
