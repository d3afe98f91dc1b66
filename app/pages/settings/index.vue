<script setup lang="ts">
useHead({ title: 'Settings · Fides' })
const session = useSessionStore()
</script>

<template>
  <div class="page">
    <h1>Settings</h1>
    <nav aria-label="More settings" class="more">
      <NuxtLink to="/settings/account" class="text-primary">Sign-in and security</NuxtLink>
      <NuxtLink to="/settings/notices" class="text-primary">Notifications</NuxtLink>
      <NuxtLink v-if="session.may('administrator')" to="/settings/webhooks" class="text-primary"> Webhooks </NuxtLink>
      <NuxtLink v-if="session.may('administrator')" to="/settings/checks" class="text-primary">
        Destination checks
      </NuxtLink>
      <NuxtLink to="/reference" class="text-primary">API</NuxtLink>
      <NuxtLink to="/settings/privacy" class="text-primary">Privacy</NuxtLink>
    </nav>
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
.more {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.more a {
  padding-block: 4px;
}
</style>
