<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import type { Domain, Rule } from '~~/core/schemas'
import { ruleFields } from '~/composables/useRuleForm'

const { rule = undefined, given = undefined, domain } = defineProps<{ rule?: Rule; given?: Rule; domain: Domain }>()
const shown = defineModel<boolean>({ required: true })
const store = useRulesStore()
const session = useSessionStore()
/** Rules are the administrators' to change, and so to compare before they are saved. */
const mayChange = computed(() => session.may('administrator'))
const notice = useNotice()
const { xs } = useDisplay()
// On a phone what a rule matches stands by its pattern, not below all its fields.
const { isPhone } = useScreen()
const form = useRuleForm(domain)
const { fields } = form
const { faults, fault, saving, changed, meanwhile, clashes, resumed, conflicts, reason } = form
const first = ref<{ focus(): void }>()

watch(
  shown,
  async (open) => {
    if (!open) return form.close()
    form.open(rule)
    // What the list was asked to do is not saved yet.
    if (given && rule) Object.assign(fields, ruleFields(given))
    await nextTick()
    first.value?.focus()
  },
  { immediate: true },
)

const EXAMPLE = 'https://www.example/stops/{id}'
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
  const others = store.rules.map((other) => ({ ...ruleFields(other), id: other.id }))
  const { position, ...mine } = fields
  if (rule) return others.map((other) => (other.id === rule.id ? { ...mine, id: rule.id } : other))
  const at = (position || others.length + 1) - 1
  return mine.pattern.trim() === '' ? others : [...others.slice(0, at), mine, ...others.slice(at)]
})
/** The same, as past requests are put to them: a rule that is new has no place of its own yet. */
const replayed = computed(() => ({
  rules: {
    domain: domain.host,
    items: drafts.value.map((draft) =>
      Object.fromEntries(Object.entries(draft).filter(([name]) => name !== 'id' && name !== 'position')),
    ) as never,
  },
}))
/** Past requests are put to a rule that is new or changed, once it says where it leads. */
const isReady = computed(
  () =>
    changed.value.length > 0 &&
    [fields.pattern, fields.destination].every((text) => text.trim() !== '') &&
    Object.values(faults.value).every((sentence) => !sentence),
)
const mine = computed(() =>
  rule ? store.rules.findIndex((other) => other.id === rule.id) + 1 : fields.position || store.rules.length + 1,
)

async function save() {
  const saved = await form.save()
  if (saved) {
    shown.value = false
    notice.tell(`Rule ${rule ? 'saved' : 'created'}: ${saved.pattern}`)
    return
  }
  await nextTick()
  document.querySelector<HTMLElement>('.rule-form .v-input--error input')?.focus()
}
async function remove() {
  try {
    await store.remove(rule!)
    shown.value = false
    notice.tell(`Rule removed: ${rule!.pattern}. Undo in the ledger.`)
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
            <DraftNotice v-if="resumed" @discard="form.discard()" />
            <MeanwhileNotice v-if="meanwhile" what="rule" :clashes="clashes" @theirs="form.takeTheirs()" />
            <VAlert v-if="fault" type="error" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
            <ConflictNotice
              v-if="conflicts.length > 0"
              v-model:reason="reason"
              :conflicts="conflicts"
              :fault="undefined"
            />
            <VSelect v-model="fields.syntax" :items="SYNTAXES" label="Syntax" />
            <VTextField
              ref="first"
              v-model="fields.pattern"
              class="mono"
              label="Pattern"
              :error-messages="faults.pattern"
              autocomplete="off"
              spellcheck="false"
              maxlength="1000"
              persistent-hint
              :hint="
                fields.syntax === 'path'
                  ? ':name matches one segment, * the rest; {…}? is optional; (\\d+) matches a regular expression.'
                  : 'Matches the whole path, which begins with “/”; (?P<name>…) captures. Matched in linear time.'
              "
            />
            <VTextField
              v-model="fields.destination"
              class="mono"
              label="Destination"
              :placeholder="EXAMPLE"
              :error-messages="faults.destination"
              autocomplete="off"
              spellcheck="false"
              persistent-hint
              hint="{name} inserts a capture; {+name} inserts it with its slashes unescaped."
            />
            <RuleReach
              v-if="mayChange && isPhone"
              :domain="domain.host"
              :drafts="drafts"
              :mine="mine"
              :is-on="fields.active"
            />
            <ConditionFields v-model="fields.condition" :fault="faults.condition" />
            <VSelect v-if="!rule" v-model="fields.position" :items="places" label="Position" />
            <RedirectTypeField v-model="fields.status" :domain="domain.host" :fault="faults.status" />
            <QueryField :model-value="fields" @update:model-value="Object.assign(fields, $event)" />
            <VCombobox
              v-model="fields.except"
              class="mono"
              label="Exceptions"
              multiple
              chips
              closable-chips
              :error-messages="faults.except"
            />
            <VTextField v-model="fields.title" label="Title" maxlength="300" :error-messages="faults.title" />
            <VTextarea v-model="fields.note" label="Note" rows="2" auto-grow maxlength="4000" />
          </div>
          <div class="bench">
            <RuleReach
              v-if="mayChange && !isPhone"
              :domain="domain.host"
              :drafts="drafts"
              :mine="mine"
              :is-on="fields.active"
            />
            <RuleBench :domain="domain.host" :drafts="drafts" :mine="mine" />
            <ReplayBox class="mt-4" :request="replayed" of="these rules" :auto="isReady" />
          </div>
        </div>
        <footer class="foot">
          <VBtn type="submit" color="primary" variant="flat" :loading="saving" :disabled="!mayChange">{{
            rule ? 'Save' : 'Create rule'
          }}</VBtn>
          <VBtn @click="(form.discard(), (shown = false))">Cancel</VBtn>
          <span v-if="!mayChange" class="soft reason">Only administrators may change rules.</span>
          <VSpacer />
          <VBtn v-if="rule && mayChange" variant="text" color="error" @click="remove">Remove rule</VBtn>
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
.reason {
  align-self: center;
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
