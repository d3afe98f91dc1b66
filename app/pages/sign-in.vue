<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { Factor } from '~~/core/schemas'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Sign in · Fides' })
const session = useSessionStore()
const route = useRoute()
const email = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)
// Browsers keep the cookie over TLS, and on the machine itself.
const secure = isSecureContext
const needs = ref<Factor[]>()
const first = ref<{ focus(): void }>()
// At once, not when the field is seen: a late focus would take letters from the next field.
onMounted(() => first.value?.focus())

// Only a path of our own: an address from elsewhere must not decide where one lands after signing in.
const goal = () => {
  const to = String(route.query.to ?? '')
  return /^\/(?![/\\])/.test(to) ? to : '/register'
}
async function give(proof: object) {
  await session.giveFactor(proof)
  await navigateTo(goal())
}
async function signIn() {
  busy.value = true
  problem.value = ''
  try {
    needs.value = await session.signIn(email.value, password.value)
    if (!needs.value) await navigateTo(goal())
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div>
    <h1 class="name">Fides</h1>
    <p class="soft mb-5">Keeps every short address working.</p>
    <template v-if="needs">
      <h2 class="mb-3">Your second factor</h2>
      <SecondFactor :needs="needs" :give="give" />
    </template>
    <VAlert v-else-if="!secure" type="warning" variant="tonal" density="compact" role="alert">
      Signing in needs https: over plain http browsers do not keep the session. Open the desk by its https address, or
      on the machine itself.
    </VAlert>
    <form v-else novalidate @submit.prevent="signIn">
      <VAlert v-if="problem" type="error" variant="tonal" density="compact" class="mb-4" role="alert">{{
        problem
      }}</VAlert>
      <VTextField
        ref="first"
        v-model="email"
        label="E-mail address"
        type="email"
        autocomplete="username"
        class="mb-4"
      />
      <VTextField v-model="password" label="Password" type="password" autocomplete="current-password" class="mb-5" />
      <VBtn type="submit" color="primary" variant="flat" block height="40" :loading="busy">Sign in</VBtn>
    </form>
  </div>
</template>

<style scoped>
.name {
  color: rgb(var(--v-theme-primary));
}
</style>
