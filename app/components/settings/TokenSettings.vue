<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useDraft } from '~/composables/useDraft'
import { mayAct, SCOPE_ROLE, TOKEN_SCOPES, type TokenScope } from '~~/core/schemas/roles'

const session = useSessionStore()
const settings = useSettingsStore()
const domains = useDomainsStore()
const fields = ref({ name: '', scope: 'read' as TokenScope, until: '', domains: [] as string[] })
const faults = ref<Record<string, string>>({})
const problem = ref('')
const draft = useDraft('new token', { fields })
draft.resume()
const secret = ref('')
const scopes = computed(() => TOKEN_SCOPES.filter((item) => mayAct(session.session!.member.role, SCOPE_ROLE[item])))
const others = computed(() => {
  const own = new Set(settings.tokens.map(({ id }) => id))
  return settings.allTokens.filter(({ id }) => !own.has(id))
})
onMounted(() => {
  settings.loadTokens().catch(() => undefined)
  domains.load()
})

async function add() {
  faults.value = {}
  problem.value = ''
  const { name, scope, until, domains: limited } = fields.value
  try {
    const expiresAt = until ? new Date(`${until}T23:59:59`).toISOString() : null
    secret.value = await settings.addToken({ name, scope, domains: limited, expiresAt })
    draft.forget()
    fields.value = { name: '', scope: 'read', until: '', domains: [] }
    draft.resume()
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (Object.keys(faults.value).length === 0) problem.value = (error as Error).message
  }
}
</script>

<template>
  <section aria-labelledby="tokens-title">
    <h2 id="tokens-title" class="mb-1">Your API tokens</h2>
    <p class="soft mb-2">
      For scripts; described at <a href="/api/v1/openapi.json" class="mono">/api/v1/openapi.json</a>. A new password
      revokes them all.
    </p>
    <TokenList :tokens="settings.tokens" />
    <VAlert v-if="secret" type="success" variant="tonal" class="my-3" role="status">
      Copy this now; it is not shown again: <code class="mono secret">{{ secret }}</code>
    </VAlert>
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" class="my-3" role="alert">{{
      problem
    }}</VAlert>
    <form class="add" novalidate @submit.prevent="add">
      <VTextField v-model="fields.name" label="Name of what uses it" :error-messages="faults.name" />
      <VSelect v-model="fields.scope" :items="scopes" label="May" :error-messages="faults.scope" />
      <DateField v-model="fields.until" label="Until" kind="day" :error-messages="faults.expiresAt" />
      <VSelect
        v-model="fields.domains"
        :items="domains.domains.map(({ host }) => host)"
        label="Limit to domains"
        multiple
        :error-messages="faults.domains"
      />
      <VBtn type="submit" height="40">Create token</VBtn>
    </form>
    <template v-if="others.length > 0">
      <h2 class="mt-6 mb-2">Other members’ tokens</h2>
      <TokenList :tokens="others" />
    </template>
  </section>
</template>

<style scoped>
.add {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(190px, 1fr));
  gap: 10px;
  margin-top: 12px;
}
.secret {
  overflow-wrap: anywhere;
}
</style>
