<script setup lang="ts">
import { ref } from 'vue'
import { WEBHOOK_WORDS, type WebhookKind } from '~~/core/notices/webhooks'
import type { DeliveryView } from '~~/core/schemas'

const store = useNoticesStore()
const moments = useMoments()
const opened = ref<number>()
const problem = ref('')
const attempt = (work: () => Promise<unknown>) =>
  work().then(
    () => (problem.value = ''),
    (error: Error) => (problem.value = error.message),
  )
const words = (kind: string) => (kind === 'trial' ? 'Trial' : (WEBHOOK_WORDS[kind as WebhookKind] ?? kind))
function stateWords({ state, status, tries, dueAt, triedAt, milliseconds, problem: why }: DeliveryView): string {
  if (state === 'delivered') return `● Taken ${moments.short(triedAt!)} (${status}, ${milliseconds} ms)`
  if (state === 'failed') return `▲ Given up after ${tries} tries: ${why}`
  return tries === 0 ? '○ Queued' : `◆ Failed (${why}); next attempt ${moments.short(dueAt)}`
}
const pretty = (payload: string) => JSON.stringify(JSON.parse(payload), null, 2)
</script>

<template>
  <div class="log">
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
    <p v-if="store.deliveries.length === 0" class="soft">No deliveries yet</p>
    <ul v-else>
      <li v-for="delivery in store.deliveries" :key="delivery.id">
        <div class="line">
          <span>{{ moments.short(delivery.madeAt) }}</span>
          <b>{{ words(delivery.kind) }}</b>
          <span class="soft">{{ stateWords(delivery) }}</span>
          <span class="acts">
            <VBtn
              size="small"
              variant="text"
              :aria-expanded="opened === delivery.id"
              @click="opened = opened === delivery.id ? undefined : delivery.id"
              >Payload</VBtn
            >
            <VBtn
              v-if="delivery.state !== 'waiting' || delivery.tries > 0"
              size="small"
              variant="text"
              @click="attempt(() => store.redeliver(delivery))"
              >Send again</VBtn
            >
          </span>
        </div>
        <pre v-if="opened === delivery.id" class="mono" tabindex="0"
          >{{ delivery.messageId }}
{{ pretty(delivery.payload) }}</pre>
      </li>
    </ul>
    <div class="d-flex ga-2">
      <VBtn size="small" variant="text" @click="attempt(() => store.loadDeliveries(store.of!))">Refresh</VBtn>
      <VBtn
        v-if="store.next !== null"
        size="small"
        variant="text"
        @click="attempt(() => store.loadDeliveries(store.of!, true))"
        >Older ones</VBtn
      >
    </div>
  </div>
</template>

<style scoped>
.log {
  padding: 4px 0 4px 16px;
}
ul {
  max-height: 420px;
  padding: 0;
  margin: 0;
  overflow-y: auto;
  list-style: none;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
}
.acts {
  margin-left: auto;
}
pre {
  max-height: 260px;
  padding: 8px;
  overflow: auto;
  font-size: 12px;
}
</style>
