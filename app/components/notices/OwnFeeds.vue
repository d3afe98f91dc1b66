<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { FeedAddress } from '~~/core/schemas'

const store = useNoticesStore()
const moments = useMoments()
const problem = ref('')
const told = ref<FeedAddress>()
const FEEDS = [
  { kind: 'calendar', title: 'Calendar of dates', text: 'iCalendar: starts, ends and expiry dates.' },
  { kind: 'ledger', title: 'Feed of the ledger', text: 'Atom: the latest changes and who made them.' },
] as const
const has = (kind: FeedAddress['kind']) => store.feeds.find((feed) => feed.kind === kind)
const attempt = async (work: () => Promise<unknown>) => {
  try {
    await work()
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  }
}
onMounted(() => attempt(() => store.loadFeeds()))
const make = (kind: FeedAddress['kind']) => attempt(async () => (told.value = await store.makeFeed(kind)))
const drop = (kind: FeedAddress['kind']) =>
  attempt(async () => {
    await store.dropFeed(kind)
    if (told.value?.kind === kind) told.value = undefined
  })
</script>

<template>
  <section aria-labelledby="feeds-title">
    <h2 id="feeds-title">Calendar and feed</h2>
    <p class="soft mb-2">Anyone with the address can read it without signing in. Keep it secret.</p>
    <VAlert v-if="problem" type="warning" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
    <div v-for="feed in FEEDS" :key="feed.kind" class="feed">
      <div>
        <h3>{{ feed.title }}</h3>
        <p class="soft">
          {{ feed.text }}
          <template v-if="has(feed.kind)"
            >You have an address since {{ moments.short(has(feed.kind)!.madeAt) }}.</template
          >
        </p>
      </div>
      <div class="d-flex ga-2">
        <VBtn
          :aria-label="`${has(feed.kind) ? 'Replace' : 'Create address'}: ${feed.title}`"
          @click="make(feed.kind)"
          >{{ has(feed.kind) ? 'Replace' : 'Create address' }}</VBtn
        >
        <VBtn v-if="has(feed.kind)" variant="text" :aria-label="`Delete: ${feed.title}`" @click="drop(feed.kind)"
          >Delete</VBtn
        >
      </div>
      <VAlert v-if="told?.kind === feed.kind" type="success" variant="tonal" density="compact" role="status">
        Copy the address now. It is shown only once. <code class="mono secret">{{ told.address }}</code>
      </VAlert>
    </div>
  </section>
</template>

<style scoped>
.feed {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 8px 0;
}
.secret {
  overflow-wrap: anywhere;
}
</style>
