<script setup lang="ts">
import { ref } from 'vue'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Unsubscribe · Fides', meta: [{ name: 'referrer', content: 'no-referrer' }] })
const route = useRoute()
const store = useNoticesStore()
const problem = ref('')
const done = ref(false)
const busy = ref(false)
async function stop() {
  busy.value = true
  problem.value = ''
  try {
    await store.stopMails(String(route.query.key ?? ''))
    done.value = true
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="stop">
    <h1>Unsubscribe</h1>
    <template v-if="done">
      <p role="status">Unsubscribed. You will receive no more digests or urgent notifications.</p>
      <p class="soft">You can switch them on again in the settings, under <i>Notifications</i>.</p>
    </template>
    <template v-else>
      <p>You will receive no more digests or urgent notifications until you switch them on again.</p>
      <VAlert v-if="problem" type="warning" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
      <VBtn color="primary" variant="flat" :loading="busy" @click="stop">Stop these mails</VBtn>
    </template>
  </div>
</template>

<style scoped>
.stop {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: flex-start;
}
</style>
