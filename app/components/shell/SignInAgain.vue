<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import type { Factor } from '~~/core/schemas'

const session = useSessionStore()
const password = ref('')
const problem = ref('')
const busy = ref(false)
const needs = ref<Factor[]>()
const field = ref<{ focus(): void }>()
watch(
  () => session.ended,
  async (ended) => {
    if (!ended) return
    password.value = ''
    problem.value = ''
    needs.value = undefined
    await nextTick()
    field.value?.focus()
  },
)
async function give(proof: object) {
  await session.giveFactor(proof)
  session.goOn(true)
}
async function signIn() {
  busy.value = true
  problem.value = ''
  try {
    needs.value = await session.signIn(session.session!.member.email, password.value)
    if (!needs.value) session.goOn(true)
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VDialog :model-value="session.ended" max-width="420" persistent no-click-animation aria-labelledby="again-title">
    <VCard class="pa-5">
      <div v-if="needs" class="d-flex flex-column ga-4">
        <h1 id="again-title">Second factor</h1>
        <SecondFactor :needs="needs" :give="give" />
      </div>
      <form v-else class="d-flex flex-column ga-4 field-column" novalidate @submit.prevent="signIn">
        <h1 id="again-title">Your session has ended</h1>
        <p>Sign in again as {{ session.session?.member.email }} to continue. Your entries have been kept.</p>
        <VAlert v-if="problem" type="error" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
        <VTextField ref="field" v-model="password" label="Password" type="password" autocomplete="current-password" />
        <div class="d-flex ga-2">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">Sign in and continue</VBtn>
          <VBtn @click="session.goOn(false)">Go to sign-in page</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>
