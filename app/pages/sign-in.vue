<script setup lang="ts">
import { ref } from 'vue'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Sign in · Fides' })
const session = useSessionStore()
const route = useRoute()
const email = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)

// Only a path of our own: an address from elsewhere must not decide where one lands after signing in.
const goal = () => {
  const to = String(route.query.to ?? '')
  return /^\/(?![/\\])/.test(to) ? to : '/register'
}
async function signIn() {
  busy.value = true
  problem.value = ''
  try {
    await session.signIn(email.value, password.value)
    await navigateTo(goal())
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <VCard class="card" border flat>
      <h1 class="name">Fides</h1>
      <p class="soft mb-5">Keeps every short address working.</p>
      <form novalidate @submit.prevent="signIn">
        <VAlert v-if="problem" type="error" variant="tonal" density="compact" class="mb-4" role="alert">{{ problem }}</VAlert>
        <VTextField v-model="email" label="E-mail address" type="email" autocomplete="username" autofocus class="mb-4" />
        <VTextField v-model="password" label="Password" type="password" autocomplete="current-password" class="mb-5" />
        <VBtn type="submit" color="primary" variant="flat" block height="40" :loading="busy">Sign in</VBtn>
      </form>
    </VCard>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  place-items: center;
  min-height: 100dvh;
  padding: 16px;
}
.card {
  width: 100%;
  max-width: 380px;
  padding: 28px;
}
.name {
  color: rgb(var(--v-theme-primary));
}
</style>
