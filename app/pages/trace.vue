<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

useHead({ title: 'Trace · Fides' })
const store = useTraceStore()
const route = useRoute()
const { fromField, zone } = useMoments()
const address = ref('')
const method = ref('GET')
const moment = ref('')
const language = ref('')
const METHODS = [
  { value: 'GET', title: 'GET, as a browser' },
  { value: 'HEAD', title: 'HEAD, as a checker' },
  { value: 'POST', title: 'POST, as a form' },
  { value: 'OPTIONS', title: 'OPTIONS' },
  { value: 'TRACE', title: 'TRACE' },
]
const asked = computed(() => String(route.query.address ?? ''))
const run = () =>
  asked.value &&
  store.run(asked.value, {
    method: method.value,
    at: fromField(moment.value),
    acceptLanguage: language.value,
  })
watch(
  asked,
  (text) => {
    address.value = text
    void run()
  },
  { immediate: true },
)
watch([method, moment], () => void run())
watchDebounced(language, () => void run(), { debounce: 350 })
const go = () => (address.value === asked.value ? run() : navigateTo({ query: { address: address.value } }))
</script>

<template>
  <div class="page">
    <aside class="as field-column" aria-label="Trace as">
      <h2>Trace as</h2>
      <VSelect v-model="method" :items="METHODS" label="Request" />
      <VTextField
        v-model="moment"
        type="datetime-local"
        :label="`Moment (${zone()})`"
        hint="Empty: now"
        persistent-hint
        clearable
      />
      <AcceptLanguageField v-model="language" />
      <p v-if="store.trace" class="soft">Table: live, revision {{ store.trace.revision.toLocaleString('en') }}</p>
      <p class="soft">Always signed out, with no cookies, as a stranger would arrive.</p>
    </aside>
    <div class="main">
      <form class="ask" @submit.prevent="go">
        <VTextField
          v-model="address"
          label="Short address"
          class="mono"
          placeholder="ansl.example/fares"
          autocomplete="off"
          spellcheck="false"
        />
        <VBtn type="submit" color="primary" variant="flat" height="40" :loading="store.loading">Trace</VBtn>
      </form>
      <VAlert v-if="store.problem" type="error" variant="tonal" density="compact">{{ store.problem }}</VAlert>
      <TraceLadder v-else-if="store.trace && asked" :trace="store.trace">
        <TraceOnward :onward="store.trace.onward" :following="store.following" :problem="store.wayProblem" />
      </TraceLadder>
      <p v-else class="soft">
        Type a short address to see, step by step, what the gateway answers a stranger, and why.
      </p>
    </div>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 300px 1fr;
  min-height: calc(100dvh - 90px);
}
.as {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 16px;
  border-right: 1px solid rgb(var(--v-theme-rule));
}
.main {
  min-width: 0;
  padding: 16px 24px 32px;
  background: rgb(var(--v-theme-surface));
}
.ask {
  display: flex;
  gap: 8px;
  max-width: 760px;
  margin-bottom: 20px;
}
@media (max-width: 800px) {
  .page {
    grid-template-columns: 1fr;
    align-content: start;
  }
  .as {
    order: 2;
    border: 0;
  }
}
</style>
