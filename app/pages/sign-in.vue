<script setup lang="ts">
import { onMounted, ref } from 'vue'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Sign in · Fides' })
const session = useSessionStore()
const route = useRoute()
const email = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)
const first = ref<{ focus(): void }>()
// At once, not when the field is seen: a late focus would take letters from the next field.
onMounted(() => first.value?.focus())

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
  <div>
    <h1 class="name">Fides</h1>
    <p class="soft mb-5">Keeps every short address working.</p>
    <form novalidate @submit.prevent="signIn">
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
