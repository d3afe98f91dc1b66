<script setup lang="ts">
import { onMounted, ref } from 'vue'

useHead({ title: 'Sign-in and security · Fides' })
const doors = useDoorsStore()
const fault = ref('')
onMounted(() => doors.load().catch((error: Error) => (fault.value = error.message)))
</script>

<template>
  <div class="page">
    <div class="head">
      <VBtn variant="text" class="px-1" to="/settings">‹ Settings</VBtn>
      <h1>Sign-in and security</h1>
    </div>
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
    <div class="columns">
      <div class="column">
        <SecondFactors />
        <OwnPassword />
      </div>
      <OwnSessions class="column" />
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
  margin-top: 12px;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 28px;
  min-width: 0;
}
section.column {
  gap: 0;
}
@media (min-width: 1100px) {
  .columns {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
