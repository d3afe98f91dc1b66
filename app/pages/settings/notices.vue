<script setup lang="ts">
useHead({ title: 'Notifications · Settings · Fides' })
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1" to="/settings">‹ Settings</VBtn>
    <div class="columns">
      <NoticeSettings />
      <div class="column">
        <SentMails />
        <OwnFeeds />
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  padding: 8px 20px 40px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 28px 40px;
  max-width: 1240px;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 28px;
  min-width: 0;
}
@media (min-width: 1100px) {
  .columns {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
