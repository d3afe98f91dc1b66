<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { sessionsOf } from '~/composables/ledger-sessions'

useHead({ title: 'Ledger · Fides' })
const ledger = useLedgerStore()
const route = useRoute()
const KINDS = [
  { value: '', title: 'Everything' },
  { value: 'link', title: 'Links' },
  { value: 'links', title: 'Many links' },
  { value: 'rule', title: 'Rules' },
  { value: 'domain', title: 'Domains' },
  { value: 'case', title: 'Cases' },
  { value: 'member', title: 'Members' },
  { value: 'token', title: 'Tokens' },
]
const query = computed(() => ({
  q: (route.query.q as string) || undefined,
  kind: (route.query.kind as string) || undefined,
}))
watch(query, (now) => ledger.list(now), { immediate: true })

const sessions = computed(() => sessionsOf(ledger.items))
const past = ref(false)
const comparing = ref(false)
const csv = computed(() => {
  const asked = new URLSearchParams(
    Object.entries(query.value).flatMap(([name, value]) => (value ? [[name, value]] : [])),
  )
  return `/api/v1/ledger.csv?${asked}`
})
const search = ref(query.value.q ?? '')
let timer: ReturnType<typeof setTimeout> | undefined
function searchSoon() {
  clearTimeout(timer)
  timer = setTimeout(() => navigateTo({ query: { ...route.query, q: search.value?.trim() || undefined } }), 200)
}
const chooseKind = (kind: string) => navigateTo({ query: { ...route.query, kind: kind || undefined } })
const reached = (isIntersecting: boolean) => isIntersecting && ledger.more()
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Ledger</h1>
      <span class="soft">Every change, with person and reason. Undo restores only what that change affected.</span>
      <VSpacer />
      <VBtn :aria-expanded="past" @click="past = !past">Look up past destination…</VBtn>
      <VBtn :aria-expanded="comparing" @click="comparing = !comparing">Compare two times…</VBtn>
      <VBtn variant="text" :href="csv" download="ledger.csv">CSV</VBtn>
      <VTextField
        v-model="search"
        class="search"
        label="Search address, destination, person, reason"
        clearable
        maxlength="200"
        @update:model-value="searchSoon"
      />
      <VSelect
        class="kind"
        :model-value="query.kind ?? ''"
        :items="KINDS"
        label="Of"
        @update:model-value="chooseKind"
      />
    </header>
    <PastLookup v-if="past" />
    <CompareMoments v-if="comparing" />
    <VAlert v-if="ledger.problem" type="error" variant="tonal" density="compact">{{ ledger.problem }}</VAlert>
    <p v-else-if="ledger.items.length === 0 && !ledger.loading" class="soft py-6">
      No entries yet. Every change of a link, domain or member is recorded here.
    </p>
    <!-- What was searched for is shown whole. -->
    <template v-if="query.q">
      <LedgerRow v-for="entry in ledger.items" :key="entry.id" :entry="entry" />
    </template>
    <SessionEntries v-for="session in query.q ? [] : sessions" :key="session.key" :session="session" />
    <div v-if="ledger.next" v-intersect="reached" class="py-4">
      <VBtn :loading="ledger.loading" @click="ledger.more()">Show more</VBtn>
    </div>
  </div>
</template>

<style scoped>
.page {
  max-width: 1920px;
  min-height: calc(100dvh - var(--fides-bars));
  padding: 8px 20px 24px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin-bottom: 6px;
}
.search {
  flex: 0 1 320px;
}
.kind {
  flex: 0 0 130px;
}
</style>
