<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { localGoal } from '~~/core/address/local-goal'
import type { Factor } from '~~/core/schemas'
import { FACTORS } from '~~/core/schemas/member'

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
const asked = String(route.query.needs ?? '').split(' ')
const named = FACTORS.filter((factor) => asked.includes(factor))
const needs = ref<Factor[] | undefined>(named.length > 0 ? [...named] : undefined)
const first = ref<{ focus(): void }>()
// At once, not when the field is seen: a late focus would take letters from the next field.
onMounted(() => first.value?.focus())

const goal = () => localGoal(String(route.query.to ?? ''))
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
      Sign-in requires https. Open Fides at its https address, or on the server itself.
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
