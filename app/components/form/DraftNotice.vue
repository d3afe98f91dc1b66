<script setup lang="ts">
defineEmits<{ discard: [] }>()
</script>

<template>
  <p class="draft" role="status">
    Unsaved changes from an earlier visit have been restored.
    <VBtn variant="text" size="small" @click="$emit('discard')">Discard them</VBtn>
  </p>
</template>

<style scoped>
.draft {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  padding: 4px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
  font-size: 13px;
}
</style>
