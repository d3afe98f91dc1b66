<script setup lang="ts">
useHead({ title: 'Settings · Fides' })
const session = useSessionStore()
</script>

<template>
  <div class="page">
    <h1>Settings</h1>
    <div>
      <p>
        <NuxtLink to="/settings/account" class="text-primary">Your account: password, second factor, sessions</NuxtLink>
      </p>
      <p v-if="session.may('administrator')">
        <NuxtLink to="/settings/checks" class="text-primary">How destinations are checked</NuxtLink>
      </p>
    </div>
    <TokenSettings />
    <MemberSettings v-if="session.may('administrator')" />
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 28px;
  max-width: 860px;
  padding: 14px 20px 40px;
}
</style>
