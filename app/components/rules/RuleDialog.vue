<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import type { Domain, Rule } from '~~/core/schemas'

const { rule = undefined, given = undefined, domain } = defineProps<{ rule?: Rule; given?: Rule; domain: Domain }>()
const shown = defineModel<boolean>({ required: true })
const store = useRulesStore()
const notice = useNotice()
const { xs } = useDisplay()
const { conflicts, reason, clear, take } = useConflicts()
const faults = ref<Record<string, string>>({})
const fault = ref('')
const busy = ref(false)
const meanwhile = ref<Rule>()
const first = ref<{ focus(): void }>()

const blank = {
  title: '',
  syntax: 'path' as Rule['syntax'],
  pattern: '',
  destination: '',
  status: domain.defaultStatus,
  query: 'discard' as Rule['query'],
  queryConflict: 'destination' as Rule['queryConflict'],
  queryMode: 'ignore' as Rule['queryMode'],
  queryText: '',
  except: [] as string[],
  active: true,
  note: '',
}
type Fields = typeof blank
const pick = (from: Partial<Fields>): Fields =>
  Object.fromEntries(
    Object.keys(blank).map((key) => [key, from[key as keyof Fields] ?? blank[key as keyof Fields]]),
  ) as Fields
const draft = ref<Fields>(pick(given ?? rule ?? {}))
/** 0: last. */
const position = ref(0)
watch(
  shown,
  async (open) => {
    if (!open) return
    await nextTick()
    first.value?.focus()
  },
  { immediate: true },
)

const QUERIES = [
  { value: 'ignore', title: 'Whatever the query is' },
  { value: 'contains', title: 'Only where the query has these, among others' },
  { value: 'exactly', title: 'Only where the query is exactly these, in any order' },
]
const SYNTAXES = [
  { value: 'path', title: 'Path pattern, like /stop/:id' },
  { value: 'expression', title: 'Regular expression (RE2 syntax)' },
]
const places = computed(() => [
  { value: 0, title: 'Last, after all others' },
  ...store.rules.map((other, index) => ({ value: index + 1, title: `${index + 1}, before ${other.pattern}` })),
])
/** The rules as they would be, for the bench. */
const drafts = computed(() => {
  const others = store.rules.map(
    ({
      id,
      title,
      syntax,
      pattern,
      destination,
      status,
      query,
      queryConflict,
      queryMode,
      queryText,
      except,
      active,
      note,
    }) => ({
      id,
      title,
      syntax,
      pattern,
      destination,
      status,
      query,
      queryConflict,
      queryMode,
      queryText,
      except,
      active,
      note,
    }),
  )
  if (rule) return others.map((other) => (other.id === rule.id ? { ...draft.value, id: rule.id } : other))
  const at = (position.value || others.length + 1) - 1
  return draft.value.pattern.trim() === '' ? others : [...others.slice(0, at), { ...draft.value }, ...others.slice(at)]
})
const mine = computed(() =>
  rule ? store.rules.findIndex((other) => other.id === rule.id) + 1 : position.value || store.rules.length + 1,
)

async function save() {
  busy.value = true
  faults.value = {}
  fault.value = ''
  const changed = rule
    ? Object.fromEntries(
        Object.entries(draft.value).filter(
          ([key, value]) => JSON.stringify(value) !== JSON.stringify(rule[key as keyof Rule]),
        ),
      )
    : { ...draft.value, ...(position.value && { position: position.value }) }
  try {
    const saved = await store.save(meanwhile.value ?? rule, {
      ...changed,
      ...(reason.value.trim() && { reason: reason.value.trim() }),
    })
    shown.value = false
    notice.tell(`${rule ? 'Saved' : 'Made'}: ${saved.pattern}`)
  } catch (error) {
    if (error instanceof ApiProblem) faults.value = error.fields
    if (error instanceof ApiProblem && error.status === 412) meanwhile.value = error.problem.current as Rule
    else if (!take(error) && Object.keys(faults.value).length === 0) fault.value = (error as Error).message
    await nextTick()
    document.querySelector<HTMLElement>('.rule-form .v-input--error input')?.focus()
  } finally {
    busy.value = false
  }
}
watch(draft, () => clear(), { deep: true })
async function remove() {
  try {
    await store.remove(rule!)
    shown.value = false
    notice.tell(`Removed: ${rule!.pattern}. The ledger can give it back.`)
  } catch (error) {
    fault.value = (error as Error).message
  }
}
</script>

<template>
  <VDialog
    v-model="shown"
    max-width="1080"
    scrollable
    persistent
    no-click-animation
    :fullscreen="xs"
    aria-labelledby="rule-form-title"
    @keydown.esc="shown = false"
  >
    <VCard>
      <form class="rule-form" novalidate @submit.prevent="save">
        <h1 id="rule-form-title" class="title">{{ rule ? 'Change rule' : `New rule on ${domain.shown}` }}</h1>
        <div class="body">
          <div class="fields field-column">
            <VAlert v-if="meanwhile" type="warning" variant="tonal" density="compact"
              >Somebody saved this rule meanwhile:
              <span class="mono">{{ meanwhile.pattern }} → {{ meanwhile.destination }}</span
              >. Yours is kept; save again to put it over theirs.</VAlert
            >
            <VAlert v-if="fault" type="error" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
            <ConflictNotice
              v-if="conflicts.length > 0"
              v-model:reason="reason"
              :conflicts="conflicts"
              :fault="undefined"
            />
            <VSelect v-model="draft.syntax" :items="SYNTAXES" label="Written as" />
            <VTextField
              ref="first"
              v-model="draft.pattern"
              class="mono"
              label="Pattern"
              :error-messages="faults.pattern"
              autocomplete="off"
              spellcheck="false"
              maxlength="1000"
              persistent-hint
              :hint="
                draft.syntax === 'path'
                  ? ':name takes one part, * takes the rest, {…}? may be missing, (\\d+) takes what the expression says.'
                  : 'Matches the whole path, which begins with “/”; (?P<name>…) captures. Matched in linear time.'
              "
            />
            <VTextField
              v-model="draft.destination"
              class="mono"
              label="Destination"
              placeholder="https://www.example/stops/{id}"
              :error-messages="faults.destination"
              autocomplete="off"
              spellcheck="false"
              persistent-hint
              hint="{name} puts a capture in, {+name} with its slashes as they are."
            />
            <VSelect v-model="draft.queryMode" :items="QUERIES" label="Query of the address" />
            <VTextField
              v-if="draft.queryMode !== 'ignore'"
              v-model="draft.queryText"
              class="mono"
              label="Parameters"
              placeholder="line=4&lang"
              :error-messages="faults.queryText"
              hint="A name alone stands for any value."
              persistent-hint
            />
            <VSelect v-if="!rule" v-model="position" :items="places" label="Place in the order" />
            <RedirectTypeField v-model="draft.status" :domain="domain.host" />
            <QueryField v-model:query="draft.query" v-model:conflict="draft.queryConflict" />
            <VCombobox
              v-model="draft.except"
              class="mono"
              label="Leaves these addresses alone"
              multiple
              chips
              closable-chips
              :error-messages="faults.except"
            />
            <VTextField v-model="draft.title" label="Title" maxlength="300" :error-messages="faults.title" />
            <VTextarea v-model="draft.note" label="Note" rows="2" auto-grow maxlength="4000" />
          </div>
          <RuleBench class="bench" :domain="domain.host" :drafts="drafts" :mine="mine" />
        </div>
        <footer class="foot">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">{{ rule ? 'Save' : 'Make rule' }}</VBtn>
          <VBtn @click="shown = false">Cancel</VBtn>
          <VSpacer />
          <VBtn v-if="rule" variant="text" color="error" @click="remove">Remove rule</VBtn>
        </footer>
      </form>
    </VCard>
  </VDialog>
</template>

<style scoped>
.rule-form {
  display: flex;
  flex-direction: column;
  min-height: 0;
  max-height: 100%;
}
.title {
  padding: 16px 20px 6px;
}
.body {
  display: grid;
  grid-template-columns: minmax(0, 11fr) minmax(0, 9fr);
  gap: 20px;
  padding: 10px 20px 16px;
  overflow-y: auto;
}
.fields {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.foot {
  display: flex;
  gap: 8px;
  padding: 12px 20px;
  border-top: 1px solid rgb(var(--v-theme-rule));
}
@media (max-width: 800px) {
  .body {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
