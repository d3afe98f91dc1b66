<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { MailView } from '~~/core/schemas'

const store = useNoticesStore()
const moments = useMoments()
const problem = ref('')
const busy = ref(false)
const load = () =>
  store.loadMails().then(
    () => (problem.value = ''),
    (error: Error) => (problem.value = error.message),
  )
onMounted(load)
async function trial() {
  busy.value = true
  try {
    await store.sendTrial()
    problem.value = ''
    useNotice().tell('A trial mail is on its way')
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
function words({ state, sentAt, dueAt, problem: why }: MailView): string {
  if (state === 'sent') return `Sent ${moments.short(sentAt!)}`
  if (state === 'dropped') return `Not sent. ${why}`
  if (state === 'failed') return `Given up: ${why}`
  return why ? `Failed (${why}); next attempt ${moments.short(dueAt)}` : `Scheduled for ${moments.short(dueAt)}`
}
</script>

<template>
  <section aria-labelledby="mails-title">
    <h2 id="mails-title">Your mails</h2>
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
    <ul v-if="store.mails.length > 0" class="list">
      <li v-for="mail in store.mails" :key="mail.id">
        <b>{{ mail.subject }}</b>
        <span class="soft">{{ words(mail) }}</span>
      </li>
    </ul>
    <p v-else class="soft">No e-mails yet. Send a test to check delivery.</p>
    <div class="d-flex ga-2">
      <VBtn :loading="busy" @click="trial">Send test e-mail</VBtn>
      <VBtn variant="text" @click="load">Refresh</VBtn>
    </div>
  </section>
</template>

<style scoped>
.list {
  max-height: 340px;
  padding: 0;
  margin: 6px 0 10px;
  overflow-y: auto;
  list-style: none;
}
.list > li {
  display: flex;
  flex-direction: column;
  padding: 6px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  overflow-wrap: anywhere;
}
</style>
