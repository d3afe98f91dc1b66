<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Welcome · Fides' })
const doors = useDoorsStore()
const session = useSessionStore()
const invited = ref<{ name: string; email: string }>()
const password = ref('')
const faults = ref<Record<string, string>>({})
const problem = ref('')
const busy = ref(false)
const about = computed(() => (invited.value ? [invited.value.name, invited.value.email] : []))
// After the hash, which no server and no log ever sees.
const word = () => location.hash.slice(1)
onMounted(async () => {
  try {
    invited.value = await doors.greet(word())
  } catch (error) {
    problem.value = (error as Error).message
  }
})
async function choose() {
  busy.value = true
  faults.value = {}
  problem.value = ''
  try {
    // One who has a second factor already gives it where one signs in.
    const needs = await session.chooseByAddress(word(), password.value)
    await navigateTo(needs ? '/sign-in' : '/docket')
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (!faults.value.password) problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div>
    <h1 class="mb-1">Welcome to Fides</h1>
    <VAlert v-if="problem" type="error" variant="tonal" density="compact" class="my-4" role="alert">{{
      problem
    }}</VAlert>
    <form v-if="invited" class="d-flex flex-column ga-4 field-column" novalidate @submit.prevent="choose">
      <p class="soft">Choose the password for {{ invited.name }}, {{ invited.email }}. This address works once.</p>
      <!-- For password managers. -->
      <input class="d-none" type="email" autocomplete="username" :value="invited.email" readonly />
      <NewPassword v-model="password" :about="about" :error="faults.password" />
      <VBtn type="submit" color="primary" variant="flat" height="40" :loading="busy">Set password and sign in</VBtn>
    </form>
    <NuxtLink v-else-if="problem" to="/sign-in" class="text-primary">To the sign-in page</NuxtLink>
  </div>
</template>
