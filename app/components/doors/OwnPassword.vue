<script setup lang="ts">
import { computed, ref } from 'vue'

const doors = useDoorsStore()
const session = useSessionStore()
const present = ref('')
const password = ref('')
const faults = ref<Record<string, string>>({})
const problem = ref('')
const busy = ref(false)
const about = computed(() => [
  session.session?.member.name ?? '',
  session.session?.member.email ?? '',
  session.session?.organisation.name ?? '',
])

async function change() {
  busy.value = true
  faults.value = {}
  problem.value = ''
  try {
    await doors.changePassword(present.value, password.value)
    present.value = ''
    password.value = ''
    useNotice().tell('Your password is changed; your other sessions and your tokens have ended')
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (Object.keys(faults.value).length === 0) problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section aria-labelledby="password-title">
    <h2 id="password-title" class="mb-1">Password</h2>
    <p class="soft mb-3">Changing it signs you out elsewhere and revokes your API tokens.</p>
    <form class="field-column" novalidate @submit.prevent="change">
      <VAlert v-if="problem" type="error" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
      <VTextField
        v-model="present"
        label="Current password"
        type="password"
        autocomplete="current-password"
        :error-messages="faults.present"
      />
      <NewPassword v-model="password" :about="about" :error="faults.password" />
      <VBtn type="submit" class="align-self-start" height="40" :loading="busy">Change password</VBtn>
    </form>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  max-width: 420px;
}
</style>
