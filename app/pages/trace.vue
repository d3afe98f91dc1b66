<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Trace } from '~~/core/schemas'

useHead({ title: 'Trace · Fides' })
const store = useTraceStore()
const route = useRoute()
const { fromField, short, zone } = useMoments()
const one = (name: string) => String(route.query[name] ?? '')
const address = ref(one('address'))
// The URL says all of it, so that it can be passed on and Back returns to it.
const method = ref(one('method') || 'GET')
const moment = ref(one('at'))
const language = ref(one('languages'))
const METHODS = [
  { value: 'GET', title: 'GET, as a browser' },
  { value: 'HEAD', title: 'HEAD, as a checker' },
  { value: 'POST', title: 'POST, as a form' },
  { value: 'OPTIONS', title: 'OPTIONS' },
  { value: 'TRACE', title: 'TRACE' },
]
const asked = computed(() => one('address'))
/** Another moment or visitor to compare with, where the URL says so. */
const isCompared = computed(() => one('vs') !== '')
const otherMoment = ref(one('vsAt'))
const otherLanguage = ref(one('vsLanguages'))
const other = ref<Trace>()
const otherProblem = ref('')
/** Who is answered, and when, as far as it is not a plain request made now. */
const visitor = computed(() =>
  [
    one('method') && one('method') !== 'GET' && `a ${one('method')} request`,
    one('at') && `on ${short(fromField(one('at')) ?? one('at'))}`,
    one('languages') && `for a visitor with the languages ${one('languages')}`,
  ]
    .filter(Boolean)
    .join(', '),
)
const query = () => ({
  ...(address.value && { address: address.value }),
  ...(method.value !== 'GET' && { method: method.value }),
  ...(moment.value && { at: moment.value }),
  ...(language.value && { languages: language.value }),
  ...(isCompared.value && {
    vs: '1',
    ...(otherMoment.value && { vsAt: otherMoment.value }),
    ...(otherLanguage.value && { vsLanguages: otherLanguage.value }),
  }),
})
async function runOther() {
  other.value = undefined
  otherProblem.value = ''
  if (!isCompared.value || !asked.value) return
  const mine = JSON.stringify(route.query)
  try {
    const as = { method: one('method') || 'GET', at: fromField(one('vsAt')), acceptLanguage: one('vsLanguages') }
    const trace = await store.once(asked.value, as)
    if (mine === JSON.stringify(route.query)) other.value = trace
  } catch (error) {
    otherProblem.value = (error as Error).message
  }
}
const named = (at: string, languages: string) =>
  [at ? short(fromField(at) ?? at) : 'Now', languages && `languages ${languages}`].filter(Boolean).join(', ')
const names = computed<[string, string]>(() => [
  named(one('at'), one('languages')),
  named(one('vsAt'), one('vsLanguages')),
])
/** Both answers, once they are of one address. */
const compared = computed<[Trace, Trace] | undefined>(() =>
  store.trace && other.value?.address === store.trace.address ? [store.trace, other.value] : undefined,
)
const startComparing = () => navigateTo({ query: { ...query(), vs: '1' } })
function stopComparing() {
  const { vs: _vs, vsAt: _at, vsLanguages: _languages, ...rest } = route.query
  return navigateTo({ query: rest })
}
const run = () =>
  asked.value &&
  store.run(asked.value, {
    method: one('method') || 'GET',
    at: fromField(one('at')),
    acceptLanguage: one('languages'),
  })
watch(
  () => JSON.stringify(route.query),
  () => {
    address.value = asked.value
    method.value = one('method') || 'GET'
    moment.value = one('at')
    language.value = one('languages')
    otherMoment.value = one('vsAt')
    otherLanguage.value = one('vsLanguages')
    void run()
    void runOther()
  },
  { immediate: true },
)
// Another visitor is another view of the same address.
const asAnother = () => asked.value && navigateTo({ query: { ...query(), address: asked.value } }, { replace: true })
watch(method, asAnother)
watchDebounced([moment, language, otherMoment, otherLanguage], asAnother, { debounce: 350 })
const isAsked = () => JSON.stringify(query()) === JSON.stringify(route.query)
const go = () => (isAsked() ? run() : navigateTo({ query: query() }))
</script>

<template>
  <div class="page">
    <aside class="as field-column" aria-label="Trace as" @keydown.enter="go">
      <h2>Trace as</h2>
      <VSelect v-model="method" :items="METHODS" label="Request" />
      <DateField v-model="moment" kind="moment" :label="`Moment (${zone()})`" hint="If empty: now" clearable />
      <AcceptLanguageField v-model="language" />
      <template v-if="isCompared">
        <h2>Compared with</h2>
        <DateField v-model="otherMoment" kind="moment" label="Other moment" hint="If empty: now" clearable />
        <AcceptLanguageField v-model="otherLanguage" />
        <VBtn @click="stopComparing">Stop comparing</VBtn>
      </template>
      <VBtn v-else-if="asked" @click="startComparing">Compare with…</VBtn>
      <p v-if="store.trace" class="soft">Table: live, revision {{ store.trace.revision.toLocaleString('en') }}</p>
      <p class="soft">Always signed out and without cookies.</p>
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
        <VBtn type="submit" class="beside-field" color="primary" variant="flat" height="40" :loading="store.loading"
          >Trace</VBtn
        >
      </form>
      <VAlert v-if="otherProblem" type="error" variant="tonal" density="compact">{{ otherProblem }}</VAlert>
      <TraceComparison v-if="compared" :traces="compared" :names="names" />
      <VAlert v-if="store.problem" type="error" variant="tonal" density="compact">{{ store.problem }}</VAlert>
      <TraceLadder v-else-if="store.trace && asked" :trace="store.trace" :visitor="visitor">
        <TraceOnward :onward="store.trace.onward" :following="store.following" :problem="store.wayProblem" />
      </TraceLadder>
      <p v-else class="soft">Enter a short address to see each step of the answer that a signed-out visitor gets.</p>
    </div>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 300px 1fr;
  min-height: calc(100dvh - var(--fides-bars));
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
