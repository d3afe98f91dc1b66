<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { setup } from '~~/core/schemas'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Set up · Fides' })
const session = useSessionStore()
const route = useRoute()
const fields = ref({
  organisation: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  name: '',
  email: '',
  password: '',
})
const faults = ref<Record<string, string>>({})
const problem = ref('')
const busy = ref(false)
const first = ref<{ focus(): void }>()
onMounted(() => first.value?.focus())
const ZONES = Intl.supportedValuesOf('timeZone')

async function send() {
  faults.value = {}
  problem.value = ''
  const body = { ...fields.value, ticket: String(route.query.ticket ?? '') }
  const checked = setup.safeParse(body)
  if (!checked.success) {
    for (const issue of checked.error.issues) faults.value[String(issue.path[0])] ??= issue.message
    return
  }
  busy.value = true
  try {
    await session.setUp(body)
    await navigateTo('/settings')
  } catch (error) {
    problem.value = (error as Error).message
    if (error instanceof ApiProblem) faults.value = error.fields
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div>
    <h1 class="mb-1">Set up Fides</h1>
    <p class="soft mb-5">You will be the first administrator. This link works once.</p>
    <form novalidate class="form field-column" @submit.prevent="send">
      <VAlert v-if="problem" type="error" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
      <VTextField
        ref="first"
        v-model="fields.organisation"
        label="Organisation"
        :error-messages="faults.organisation"
      />
      <VAutocomplete
        v-model="fields.timeZone"
        :items="ZONES"
        label="Time zone"
        variant="outlined"
        density="compact"
        hide-details="auto"
        :error-messages="faults.timeZone"
      />
      <VTextField v-model="fields.name" label="Your name" autocomplete="name" :error-messages="faults.name" />
      <VTextField
        v-model="fields.email"
        label="E-mail address"
        type="email"
        autocomplete="username"
        :error-messages="faults.email"
      />
      <NewPassword
        v-model="fields.password"
        :about="[fields.name, fields.email, fields.organisation]"
        :error="faults.password"
      />
      <VBtn type="submit" color="primary" variant="flat" height="40" :loading="busy">Set up</VBtn>
    </form>
  </div>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 16px;
}
</style>
