<script setup lang="ts">
useHead({ title: 'Checks · Settings · Fides' })
const session = useSessionStore()
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1" to="/settings">‹ Settings</VBtn>
    <CheckSettings v-if="session.may('administrator')" />
    <p v-else class="soft">You need the administrator role to change these settings.</p>
  </div>
</template>

<style scoped>
.page {
  max-width: 860px;
  padding: 8px 20px 40px;
}
</style>
