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
      <h1 id="confirm-title">Confirm that it is you</h1>
      <p>Members, tokens, keys and your own doors are touched only by somebody who proved who they are just now.</p>
      <SecondFactor v-if="session.toConfirm.length > 0" :needs="session.toConfirm" :give="give" />
      <VBtn class="align-self-start" @click="session.confirmed(false)">Cancel</VBtn>
    </VCard>
  </VDialog>
</template>
