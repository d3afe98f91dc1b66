<script setup lang="ts">
import { ref } from 'vue'

definePageMeta({ layout: 'plain' })
useHead({ title: 'Stop mails · Fides', meta: [{ name: 'referrer', content: 'no-referrer' }] })
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
    <h1>Stop mails</h1>
    <template v-if="done">
      <p role="status">Stopped: you get neither digests nor mails at once any more.</p>
      <p class="soft">You can have them again in the settings, under <i>What you are told</i>.</p>
    </template>
    <template v-else>
      <p>No digest and no mail about what harms many comes to you any more, until you ask for them again.</p>
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
