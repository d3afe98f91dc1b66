<script setup lang="ts">
useHead({ title: 'Webhooks · Settings · Fides' })
const session = useSessionStore()
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1" to="/settings">‹ Settings</VBtn>
    <WebhookSettings v-if="session.may('administrator')" />
    <p v-else class="soft">Only administrators say which programs are told what happens.</p>
  </div>
</template>

<style scoped>
.page {
  max-width: 1100px;
  padding: 8px 20px 40px;
}
</style>
