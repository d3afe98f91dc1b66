<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Preview } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const open = defineModel<boolean>({ required: true })
const domains = useDomainsStore()
const host = ref('')
const preview = ref<Preview>()
const fault = ref('')
const below = ref(false)
const liesBelow = ref(false)
const busy = ref(false)
const draft = useDraft('new domain', { host, below })
watch(open, (is) => is && reset(), { immediate: true })
watch(host, () => {
  preview.value = undefined
  fault.value = ''
  liesBelow.value = false
})
function reset() {
  host.value = ''
  below.value = false
  draft.resume()
}

async function work(task: () => Promise<unknown>) {
  busy.value = true
  fault.value = ''
  try {
    await task()
  } catch (error) {
    fault.value = error instanceof ApiProblem ? (error.fields.host ?? error.message) : String(error)
    liesBelow.value = error instanceof ApiProblem && 'above' in error.problem
  } finally {
    busy.value = false
  }
}
const look = () => work(async () => (preview.value = await domains.preview(host.value)))
const add = () =>
  work(async () => {
    const domain = await domains.create(host.value, below.value)
    draft.forget()
    open.value = false
    await navigateTo(`/domains/${domain.id}`)
  })
</script>

<template>
  <VDialog v-model="open" max-width="620" aria-labelledby="add-domain-title">
    <VCard class="pa-5">
      <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="preview ? add() : look()">
        <h1 id="add-domain-title">Add a domain</h1>
        <p>A separate domain is shortest in print. A sub-domain leaves your website unchanged.</p>
        <VTextField
          v-model="host"
          label="Domain"
          class="mono"
          placeholder="ansl.example"
          autocomplete="off"
          maxlength="300"
          :error-messages="fault"
        />
        <VCheckbox
          v-if="liesBelow"
          v-model="below"
          label="Add it although it is below another of your domains"
          density="compact"
          hide-details
        />
        <section v-if="preview" aria-live="polite" class="told">
          <h2 class="mono">{{ preview.shown }}</h2>
          <p>
            {{
              preview.isApex
                ? `The top of ${preview.registrable}: the name that was registered (public suffix list).`
                : `A sub-domain of ${preview.registrable} (public suffix list).`
            }}
          </p>
          <h3 class="mt-3">Today</h3>
          <ul>
            <li v-for="sentence in preview.today" :key="sentence">{{ sentence }}</li>
          </ul>
          <template v-if="preview.takenAway.length > 0">
            <h3 class="mt-3 text-doubtful"><StateMark state="doubtful" /> What would change</h3>
            <ul>
              <li v-for="sentence in preview.takenAway" :key="sentence">{{ sentence }}</li>
            </ul>
          </template>
          <p class="mt-3">
            <b>{{ preview.recommendation }}</b>
          </p>
        </section>
        <div class="d-flex flex-wrap ga-2">
          <VBtn v-if="!preview" type="submit" color="primary" variant="flat" :loading="busy">Check this name</VBtn>
          <VBtn v-else type="submit" color="primary" variant="flat" :loading="busy">Add {{ preview.shown }}</VBtn>
          <VBtn @click="open = false">Cancel</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>

<style scoped>
.told {
  padding: 12px 14px;
  border-left: 4px solid rgb(var(--v-theme-info));
  background: rgb(var(--v-theme-tint-info));
  overflow-wrap: anywhere;
}
.told ul {
  padding-left: 18px;
}
</style>
