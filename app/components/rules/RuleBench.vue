<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Condition } from '~~/core/conditions'
import type { PatternTested } from '~~/core/schemas'

type Draft = Record<string, unknown> & { condition?: Condition }
const { domain, drafts, mine } = defineProps<{ domain: string; drafts: Draft[]; mine: number }>()
const store = useRulesStore()
const text = ref('/')
const results = ref<PatternTested>()
const problem = ref('')
const language = ref<string | null>('')
// Asked for where it decides anything.
const byLanguage = computed(() => drafts.some(({ condition }) => condition?.some(({ kind }) => kind === 'language')))
const asked = refDebounced(
  computed(() => ({
    addresses: text.value
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean)
      .slice(0, 500),
    drafts,
    acceptLanguage: (byLanguage.value && language.value) || '',
  })),
  200,
)
let asking: AbortController | undefined
watch(
  asked,
  async ({ addresses, drafts: rules, acceptLanguage }) => {
    asking?.abort()
    const own = (asking = new AbortController())
    // A field that is not filled yet is no draft; a pattern that cannot be read is told.
    const ready = rules.filter((rule) => rule.pattern && rule.destination)
    try {
      const answer = await store.test({ domain, rules: ready, addresses, acceptLanguage }, own.signal)
      if (own.signal.aborted) return
      results.value = answer
      problem.value = ''
    } catch (error) {
      if (own.signal.aborted) return
      // Where a field of the draft is at fault, the form says so at the field as well.
      const [fault] = error instanceof ApiProblem && error.status === 422 ? Object.values(error.fields) : []
      problem.value = fault ? `Not ready to test. ${fault}` : (error as Error).message
      results.value = undefined
    }
  },
  { immediate: true, deep: true },
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
