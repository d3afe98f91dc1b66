<script setup lang="ts">
import { ref } from 'vue'
import type { PlanView } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

defineProps<{ plan: PlanView }>()
const store = useDomainStore()
const notice = useNotice()
const open = ref(false)
const server = ref('')
const name = ref('')
const secret = ref('')
// The secret is never kept.
const draft = useDraft(`update key of ${store.domain!.id}`, { server, name })
if (draft.resume()) open.value = true
const faults = ref<Record<string, string>>({})
const busy = ref(false)

async function work(task: () => Promise<unknown>, told: string) {
  busy.value = true
  faults.value = {}
  try {
    await task()
    notice.tell(told)
    draft.forget()
    draft.resume()
    open.value = false
    secret.value = ''
  } catch (error) {
    faults.value =
      error instanceof ApiProblem && Object.keys(error.fields).length > 0
        ? error.fields
        : { all: (error as Error).message }
  } finally {
    busy.value = false
  }
}
const save = () =>
  work(
    () => store.setKey(store.domain!.id, { server: server.value, name: name.value, secret: secret.value }),
    'The key is kept, encrypted.',
  )
const remove = () => work(() => store.removeKey(store.domain!.id), 'Key deleted.')
</script>

<template>
  <section aria-labelledby="key-title">
    <h2 id="key-title" class="mb-1">Dynamic update</h2>
    <p v-if="plan.key" class="soft">
      Records are placed at <span class="mono">{{ plan.key.server }}</span> with the key
      <span class="mono">{{ plan.key.name }}</span>.
      <VBtn variant="text" size="small" :loading="busy" @click="remove">Delete key</VBtn>
    </p>
    <p v-else class="soft">
      Where the organisation runs its own name server, Fides can place the records itself (RFC 2136, TSIG HMAC-SHA256).
    </p>
    <VBtn v-if="!open" size="small" class="mt-1" @click="open = true">{{
      plan.key ? 'Replace update key' : 'Add update key'
    }}</VBtn>
    <form v-else class="d-flex flex-column ga-3 field-column mt-2" novalidate @submit.prevent="save">
      <VTextField
        v-model="server"
        class="mono"
        label="Primary name server’s address"
        placeholder="192.0.2.53"
        :error-messages="faults.server"
      />
      <VTextField
        v-model="name"
        class="mono"
        label="Key name"
        placeholder="desk-key"
        autocomplete="off"
        :error-messages="faults.name"
      />
      <VTextField
        v-model="secret"
        class="mono"
        type="password"
        label="Secret (base64)"
        autocomplete="off"
        :error-messages="faults.secret"
        hint="Kept encrypted, never shown again."
        persistent-hint
      />
      <VAlert v-if="faults.all" type="error" variant="tonal" density="compact">{{ faults.all }}</VAlert>
      <div class="d-flex ga-2">
        <VBtn type="submit" :loading="busy">Save key</VBtn><VBtn variant="text" @click="open = false">Cancel</VBtn>
      </div>
    </form>
  </section>
</template>
