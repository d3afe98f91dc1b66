<script setup lang="ts">
useAppearance()
</script>

<template>
  <VApp>
    <NuxtLayout>
      <NuxtPage />
    </NuxtLayout>
    <NoticeBar />
  </VApp>
</template>
