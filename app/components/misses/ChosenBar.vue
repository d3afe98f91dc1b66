<script setup lang="ts">
/** How many requested addresses are chosen, and what to do with them; else how many could be chosen without a look. */
defineProps<{ chosen: number; certain: number }>()
defineEmits<{ settle: []; clear: []; certain: [] }>()
</script>

<template>
  <div v-if="chosen > 0" class="chosen" role="status">
    <b>{{ chosen }} chosen</b>
    <VBtn color="primary" variant="flat" size="small" @click="$emit('settle')">Settle in one go…</VBtn>
    <VBtn size="small" @click="$emit('clear')">Choose none</VBtn>
  </div>
  <div v-else-if="certain > 1" class="chosen">
    <span>For {{ certain }} of these, one link is at least 95% likely.</span>
    <VBtn size="small" @click="$emit('certain')">Choose these <kbd class="mono key">c</kbd></VBtn>
  </div>
</template>

<style scoped>
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 4px 12px;
  padding: 6px 10px;
  background: rgb(var(--v-theme-count));
  font-size: 13px;
}
.key {
  margin-left: 6px;
  font-weight: 400;
}
@media (max-width: 699px) {
  .key {
    display: none;
  }
}
</style>
