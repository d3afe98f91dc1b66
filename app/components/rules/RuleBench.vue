<script setup lang="ts">
import { computed, ref } from 'vue'
import { faultOf, useLatest } from '~/composables/useLatest'
import type { Condition } from '~~/core/conditions'

type Draft = Record<string, unknown> & { condition?: Condition }
const { domain, drafts, mine } = defineProps<{ domain: string; drafts: Draft[]; mine: number }>()
const store = useRulesStore()
const text = ref('/')
const language = ref<string | null>('')
// Asked for where it decides anything.
const byLanguage = computed(() => drafts.some(({ condition }) => condition?.some(({ kind }) => kind === 'language')))
const PAUSE_MS = 200
const asked = computed(() => ({
  domain,
  // A field that is not filled yet is no draft; a pattern that cannot be read is told.
  rules: drafts.filter((rule) => rule.pattern && rule.destination),
  addresses: text.value
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .slice(0, 500),
  acceptLanguage: (byLanguage.value && language.value) || '',
}))
const { answer: results, error } = useLatest(asked, store.test, PAUSE_MS)
// Where a field of the draft is at fault, the form says so at the field as well.
const problem = computed(() =>
  error.value instanceof ApiProblem && error.value.status === 422 && Object.keys(error.value.fields).length > 0
    ? `Not ready to test. ${faultOf(error.value)}`
    : faultOf(error.value),
)
const fault = computed(() => results.value?.faults.find(({ rule }) => rule === mine)?.sentence)
</script>

<template>
  <section class="bench" aria-labelledby="bench-title">
    <h2 id="bench-title">Test addresses</h2>
    <p class="soft">Paste addresses, one per line. Each shows what the gateway would answer with this rule.</p>
    <VTextarea v-model="text" class="addresses" label="Addresses" rows="5" spellcheck="false" auto-grow />
    <AcceptLanguageField v-if="byLanguage" v-model="language" />
    <VAlert v-if="problem || fault" class="fault" type="warning" variant="tonal" density="compact">{{
      problem || fault
    }}</VAlert>
    <ul v-if="results" class="answers" aria-live="polite">
      <li v-for="item in results.items" :key="item.address">
        <div class="mono asked">{{ item.address }}</div>
        <div v-if="item.status" class="given">
          <RedirectChip :status="item.status" />
          <span
            ><b v-if="item.by === 'rule'">{{ item.rule === mine ? 'this rule' : `rule ${item.rule}` }}</b
            ><b v-else-if="item.by === 'link'">link {{ item.link }}</b
            ><b v-else-if="item.by === 'forgiveness'">tolerant matching, {{ item.link }}</b
            ><span v-else>{{ item.sentence }}</span></span
          >
          <span v-if="item.location" class="mono soft to">→ {{ item.location }}</span>
        </div>
        <div v-else class="soft">{{ item.sentence }}</div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.fault {
  flex: none;
}
.bench {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.bench > .v-input {
  flex: none;
}
.addresses :deep(textarea) {
  font-family: var(--fides-mono);
  font-size: 13px;
}
.answers {
  padding: 4px 12px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  list-style: none;
}
.answers:empty {
  display: none;
}
.answers > li {
  padding: 6px 0;
}
.answers > li + li {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.asked,
.to {
  overflow-wrap: anywhere;
}
.given {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: baseline;
  font-size: 13px;
}
</style>
