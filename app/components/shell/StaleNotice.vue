<script setup lang="ts">
import { onMounted } from 'vue'

/** Says on every page what is not as it is now. */
const health = useHealthStore()
onMounted(() => health.follow())
</script>

<template>
  <VAlert
    v-if="health.stale.length > 0"
    type="warning"
    variant="tonal"
    density="compact"
    rounded="0"
    role="status"
    class="stale"
  >
    <p v-for="sentence in health.stale" :key="sentence">{{ sentence }}</p>
  </VAlert>
</template>

<style scoped>
.stale p {
  margin: 0;
}
</style>
