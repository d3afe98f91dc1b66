<script setup lang="ts">
const session = useSessionStore()
async function give(proof: object) {
  await callApi('/session/confirm', { method: 'POST', body: proof })
  session.confirmed(true)
}
</script>

<template>
  <VDialog
    :model-value="session.toConfirm.length > 0"
    max-width="420"
    persistent
    no-click-animation
    aria-labelledby="confirm-title"
  >
    <VCard class="pa-5 d-flex flex-column ga-4">
      <h1 id="confirm-title">Confirm your identity</h1>
      <p>Confirm your identity before you change members, tokens, keys or your sign-in settings.</p>
      <SecondFactor v-if="session.toConfirm.length > 0" :needs="session.toConfirm" :give="give" />
      <VBtn class="align-self-start" @click="session.confirmed(false)">Cancel</VBtn>
    </VCard>
  </VDialog>
</template>
