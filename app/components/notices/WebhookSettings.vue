<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { WEBHOOK_WORDS, type WebhookKind } from '~~/core/notices/webhooks'
import type { WebhookView } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const store = useNoticesStore()
const moments = useMoments()
const kinds = (Object.keys(WEBHOOK_WORDS) as WebhookKind[]).map((value) => ({ value, title: WEBHOOK_WORDS[value] }))
const fields = ref({ url: '', kinds: ['case.opened', 'change.held'] as WebhookKind[] })
const faults = ref<Record<string, string>>({})
const problem = ref('')
const draft = useDraft('new webhook', { fields })
draft.resume()
const secret = ref('')
const busy = ref(false)

const attempt = async (work: () => Promise<unknown>) => {
  problem.value = ''
  try {
    await work()
    return true
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (Object.keys(faults.value).length === 0) problem.value = (error as Error).message
    return false
  }
}
onMounted(() => attempt(() => store.loadWebhooks()))
async function add() {
  faults.value = {}
  busy.value = true
  const made = await attempt(async () => (secret.value = await store.addWebhook(fields.value)))
  busy.value = false
  if (!made) return
  draft.forget()
  fields.value = { url: '', kinds: fields.value.kinds }
  draft.resume()
}
const show = (hook: WebhookView) =>
  store.of === hook.id ? void (store.of = undefined) : void attempt(() => store.loadDeliveries(hook.id))
const words = (kind: string) => WEBHOOK_WORDS[kind as WebhookKind] ?? kind
</script>

<template>
  <section aria-labelledby="webhooks-title">
    <h1 id="webhooks-title">Webhooks</h1>
    <p class="soft mb-3">
      Sends signed messages to other programs (Standard Webhooks). Each has an ID, a timestamp and a signature. Failed
      deliveries are retried for 3 days.
    </p>
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" class="mb-3" role="alert">{{
      problem
    }}</VAlert>
    <VAlert v-if="secret" type="success" variant="tonal" class="mb-3" role="status">
      Messages are signed with this; copy it now, it is not shown again:
      <code class="mono secret">{{ secret }}</code>
    </VAlert>
    <ul v-if="store.webhooks.length > 0" class="list">
      <li v-for="hook in store.webhooks" :key="hook.id">
        <div class="row">
          <div class="what">
            <code class="mono">{{ hook.url }}</code>
            <p class="soft">{{ hook.kinds.map(words).join('; ') }}. Made by {{ hook.madeBy }}.</p>
            <p v-if="!hook.active" class="text-warning">✕ Disabled. {{ hook.problem }}</p>
            <p v-else-if="hook.failingSince" class="text-warning">
              ◆ Failing since {{ moments.short(hook.failingSince) }}: {{ hook.problem }}
            </p>
          </div>
          <div class="acts">
            <VBtn
              variant="text"
              :aria-expanded="store.of === hook.id"
              :aria-label="`Messages to ${hook.url}`"
              @click="show(hook)"
              >Messages</VBtn
            >
            <VBtn variant="text" :aria-label="`Try ${hook.url}`" @click="attempt(() => store.tryWebhook(hook))"
              >Try</VBtn
            >
            <VBtn
              variant="text"
              :aria-label="`${hook.active ? 'Disable' : 'Enable'} ${hook.url}`"
              @click="attempt(() => store.changeWebhook(hook, { active: !hook.active }))"
              >{{ hook.active ? 'Disable' : 'Enable' }}</VBtn
            >
            <VBtn variant="text" :aria-label="`Delete ${hook.url}`" @click="attempt(() => store.removeWebhook(hook))"
              >Delete</VBtn
            >
          </div>
        </div>
        <WebhookDeliveries v-if="store.of === hook.id" />
      </li>
    </ul>
    <p v-else class="soft">No webhooks</p>
    <h2 class="mt-4">Add webhook</h2>
    <form class="field-column add" novalidate @submit.prevent="add">
      <VTextField
        v-model="fields.url"
        class="mono"
        type="url"
        label="URL"
        hint="A public address, like https://hooks.example/fides; a private one only if checks may reach it."
        persistent-hint
        :error-messages="faults.url"
      />
      <VSelect v-model="fields.kinds" :items="kinds" label="Events" multiple :error-messages="faults.kinds" />
      <VBtn type="submit" color="primary" variant="flat" class="align-self-start" :loading="busy">Create webhook</VBtn>
    </form>
  </section>
</template>

<style scoped>
.list {
  padding: 0;
  list-style: none;
}
.list > li {
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  justify-content: space-between;
}
.what {
  min-width: 0;
  overflow-wrap: anywhere;
}
.add {
  display: flex;
  flex-direction: column;
  gap: 12px;
  max-width: 620px;
}
.secret {
  overflow-wrap: anywhere;
}
</style>
