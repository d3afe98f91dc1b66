<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { mayAct, SCOPE_ROLE, TOKEN_SCOPES, type TokenScope } from '~~/core/schemas/roles'

const session = useSessionStore()
const settings = useSettingsStore()
const { short } = useMoments()
const name = ref('')
const scope = ref<TokenScope>('read')
const fault = ref('')
const secret = ref('')
const scopes = computed(() => TOKEN_SCOPES.filter((item) => mayAct(session.session!.member.role, SCOPE_ROLE[item])))
onMounted(() => settings.loadTokens().catch(() => undefined))

async function add() {
  fault.value = ''
  try {
    secret.value = await settings.addToken(name.value, scope.value)
    name.value = ''
  } catch (error) {
    fault.value =
      error instanceof ApiProblem ? (error.fields.name ?? error.fields.scope ?? error.message) : String(error)
  }
}
</script>

<template>
  <section aria-labelledby="tokens-title">
    <h2 id="tokens-title" class="mb-1">Your API tokens</h2>
    <p class="soft mb-2">
      For scripts; described at <a href="/api/v1/openapi.json" class="mono">/api/v1/openapi.json</a>.
    </p>
    <ul class="ruled-list">
      <li v-for="token in settings.tokens" :key="token.id">
        <b>{{ token.name }}</b>{{ ' ' }}
        <span class="soft"
          >{{ token.scope }}, made {{ short(token.createdAt) }},
          {{ token.lastUsedAt ? `last used ${short(token.lastUsedAt)}` : 'never used' }}</span
        >
        <VSpacer />
        <span v-if="token.revokedAt" class="soft">revoked</span>
        <VBtn
          v-else
          variant="text"
          color="primary"
          :aria-label="`Revoke ${token.name}`"
          @click="settings.revokeToken(token)"
          >Revoke</VBtn
        >
      </li>
    </ul>
    <VAlert v-if="secret" type="success" variant="tonal" class="my-3">
      Copy this now; it is not shown again: <code class="mono secret">{{ secret }}</code>
    </VAlert>
    <form class="add" novalidate @submit.prevent="add">
      <VTextField v-model="name" label="Name of what uses it" :error-messages="fault" />
      <VSelect v-model="scope" :items="scopes" label="May" class="scope" />
      <VBtn type="submit" height="40">Make token</VBtn>
    </form>
  </section>
</template>

<style scoped>
li {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 38px;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  max-width: 560px;
  margin-top: 12px;
}
.scope {
  flex: 0 0 150px;
}
.secret {
  overflow-wrap: anywhere;
}
</style>
