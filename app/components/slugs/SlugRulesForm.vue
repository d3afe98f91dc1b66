<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { SEPARATORS } from '~~/core/slugs/alphabets'
import type { Domain, SlugDecision, SlugRulesReview, SlugRulesTold } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useSlugRulesStore()
const domains = useDomainStore()
const session = useSessionStore()
const notice = useNotice()
watch(
  () => domain.id,
  (id) => store.load(id),
  { immediate: true },
)

type Fields = Omit<SlugRulesTold, 'capacity' | 'usualBlocked' | 'version'>
const fields = reactive({} as Fields)
const base = ref<SlugRulesTold>()
const pick = ({ capacity: _capacity, usualBlocked: _usual, version: _version, ...rest }: SlugRulesTold): Fields =>
  JSON.parse(JSON.stringify(rest))
watch(
  () => store.rules,
  (rules) => {
    if (!rules || base.value?.version === rules.version) return
    // What is being typed stays, whoever saved something else of the domain meanwhile.
    const typing = base.value !== undefined && JSON.stringify(pick(base.value)) !== JSON.stringify(fields)
    base.value = rules
    if (!typing) Object.assign(fields, pick(rules))
  },
  { immediate: true },
)

const mayChange = computed(() => session.may('administrator'))
const changed = computed(() => base.value !== undefined && JSON.stringify(pick(base.value)) !== JSON.stringify(fields))
const faults = ref<Record<string, string>>({})
const fault = ref('')
const review = ref<SlugRulesReview>()
const decisions = ref<Record<number, SlugDecision>>({})
const keepRest = ref(false)
const reason = ref('')
const busy = ref(false)
// Nobody wants to meet these words unasked.
const listed = ref(false)

// What the new rules would do is computed as they are typed, and shown before anything is saved.
const asked = refDebounced(
  computed(() => (changed.value ? JSON.stringify(fields) : '')),
  350,
)
let asking: AbortController | undefined
watch(asked, async (body) => {
  asking?.abort()
  faults.value = {}
  if (body === '') return void (review.value = undefined)
  const mine = (asking = new AbortController())
  try {
    const told = await store.review(JSON.parse(body), mine.signal)
    if (!mine.signal.aborted) review.value = told
  } catch (error) {
    if (mine.signal.aborted) return
    review.value = undefined
    refuse(error)
  }
})
function refuse(error: unknown) {
  if (error instanceof ApiProblem && error.problem.review) review.value = error.problem.review as SlugRulesReview
  const told = error instanceof ApiProblem ? error.fields : {}
  faults.value = told
  fault.value = told.decisions !== undefined || Object.keys(told).length === 0 ? (error as Error).message : ''
}
/** Links that nothing is decided about yet. */
const open = computed(() => {
  if (!review.value) return 0
  const breaking = keepRest.value
    ? 0
    : review.value.breakingTotal - review.value.breaking.filter(({ id }) => decisions.value[id]).length
  const merging = review.value.merging.filter(
    ({ links }) => links.filter(({ id }) => !decisions.value[id] || decisions.value[id]!.do === 'keep').length !== 1,
  ).length
  return breaking + merging
})
async function save() {
  busy.value = true
  fault.value = ''
  faults.value = {}
  try {
    const used = Object.fromEntries(
      Object.entries(decisions.value).filter(
        ([id]) =>
          review.value?.breaking.some((link) => link.id === Number(id)) ||
          review.value?.merging.some(({ links }) => links.some((link) => link.id === Number(id))),
      ),
    )
    await store.save(base.value!.version, {
      ...fields,
      decisions: used,
      ...(keepRest.value && { otherwise: 'keep' }),
      ...(reason.value.trim() && { reason: reason.value.trim() }),
    })
    Object.assign(fields, pick(store.rules!))
    decisions.value = {}
    review.value = undefined
    reason.value = ''
    keepRest.value = false
    await domains.read(domain.id)
    notice.tell('Saved the slug rules')
  } catch (error) {
    if (error instanceof ApiProblem && error.status === 412) {
      base.value = { ...base.value!, version: (error.problem.current as { version: number }).version }
      fault.value = 'Somebody saved these rules meanwhile. Yours are kept here; save again to put them over theirs.'
    } else refuse(error)
  } finally {
    busy.value = false
  }
}
const ALPHABETS = [
  { value: 'letters', title: 'Letters and digits, capitals and small' },
  { value: 'lower', title: 'Small letters and digits' },
  { value: 'unmistakable', title: 'Unmistakable: small letters and digits without i l 1 o 0' },
  { value: 'own', title: 'Characters of your own' },
]
const separators = computed({
  get: () => [...(fields.separators ?? '')],
  set: (list) =>
    (fields.separators = SEPARATORS.split('')
      .filter((one) => list.includes(one))
      .join('')),
})
const lines = (key: 'reserved' | 'blocked') =>
  computed({
    get: () => (fields[key] ?? []).join('\n'),
    set: (text: string) => (fields[key] = text.split(/\s+/).filter(Boolean)),
  })
const reserved = lines('reserved')
const blocked = lines('blocked')
const fill = () => (fields.blocked = [...new Set([...fields.blocked, ...(base.value?.usualBlocked ?? [])])].sort())
</script>

<template>
  <div v-if="base" class="columns">
    <form class="form field-column" novalidate @submit.prevent="save">
      <h2>Slug rules</h2>
      <VSelect
        v-model="fields.alphabet"
        :items="ALPHABETS"
        label="Alphabet"
        :readonly="!mayChange"
        :error-messages="faults.alphabet"
      />
      <VTextField
        v-if="fields.alphabet === 'own'"
        v-model="fields.ownAlphabet"
        class="mono"
        label="Its characters"
        :readonly="!mayChange"
        :error-messages="faults.ownAlphabet"
      />
      <div class="pair">
        <VNumberInput
          v-model="fields.minLength"
          label="At least, characters"
          :min="1"
          :max="200"
          :readonly="!mayChange"
          :error-messages="faults.minLength"
        />
        <VNumberInput
          v-model="fields.maxLength"
          label="At most"
          :min="1"
          :max="200"
          :readonly="!mayChange"
          :error-messages="faults.maxLength"
        />
        <VNumberInput
          v-model="fields.randomLength"
          label="Random slugs"
          :min="1"
          :max="64"
          :readonly="!mayChange"
          :error-messages="faults.randomLength"
        />
        <VNumberInput
          v-model="fields.depth"
          label="Parts between slashes"
          :min="1"
          :max="20"
          :readonly="!mayChange"
          :error-messages="faults.depth"
        />
      </div>
      <fieldset class="plain">
        <legend class="soft">Separators</legend>
        <VCheckbox
          v-for="one in SEPARATORS"
          :key="one"
          v-model="separators"
          density="compact"
          hide-details
          :value="one"
          :label="one"
          class="mono"
          :disabled="!mayChange"
        />
      </fieldset>
      <VSwitch
        v-model="fields.capitalsMatter"
        density="compact"
        hide-details="auto"
        color="primary"
        :label="
          fields.capitalsMatter
            ? 'Capitals matter: Fares and fares are two addresses'
            : 'Capitals do not matter: Fares and fares are one address'
        "
        :disabled="!mayChange"
      />
      <VSwitch
        v-model="fields.trailingSlashMatters"
        density="compact"
        hide-details="auto"
        color="primary"
        :label="fields.trailingSlashMatters ? 'A trailing slash matters' : 'A trailing slash is ignored'"
        :disabled="!mayChange"
      />
      <VSwitch
        v-model="fields.otherScripts"
        density="compact"
        hide-details="auto"
        color="primary"
        label="Letters of other scripts, one script to a slug"
        :disabled="!mayChange"
      />
      <VSwitch
        v-model="fields.randomUnmistakable"
        density="compact"
        hide-details="auto"
        color="primary"
        label="Random slugs leave out i l 1 o 0"
        :disabled="!mayChange"
        :error-messages="faults.randomUnmistakable"
      />
      <VCombobox
        v-model="fields.prefixes"
        class="mono"
        label="Families: every slug begins with one of these"
        multiple
        chips
        closable-chips
        :readonly="!mayChange"
        :error-messages="faults.prefixes"
        hint="Like “go”, for go/… beside the main website’s own paths. Empty: any slug."
        persistent-hint
      />
      <VTextarea
        v-model="reserved"
        class="mono-area"
        label="Reserved names, one a line"
        rows="2"
        auto-grow
        max-rows="6"
        :readonly="!mayChange"
        :error-messages="faults.reserved"
      />
      <div class="d-flex flex-wrap ga-2 align-center">
        <span>{{
          fields.blocked.length === 0
            ? 'No blocked words'
            : `${fields.blocked.length.toLocaleString('en')} blocked words`
        }}</span>
        <VBtn variant="text" :aria-expanded="listed" aria-controls="blocked-words" @click="listed = !listed">{{
          listed ? 'Hide them' : mayChange ? 'Show and change them' : 'Show them'
        }}</VBtn>
        <VBtn v-if="mayChange" variant="text" @click="fill">Add the usual list</VBtn>
      </div>
      <VTextarea
        v-if="listed || faults.blocked"
        id="blocked-words"
        v-model="blocked"
        class="mono-area"
        label="Blocked words, one a line"
        rows="2"
        max-rows="6"
        auto-grow
        :readonly="!mayChange"
        :error-messages="faults.blocked"
      />
      <SlugRulesReview v-if="review" v-model:decisions="decisions" v-model:keep-rest="keepRest" :review="review" />
      <template v-if="mayChange">
        <VTextField v-if="changed" v-model="reason" label="Why (kept in the ledger)" maxlength="500" />
        <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
        <div class="d-flex flex-wrap ga-2 align-center">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy" :disabled="!changed || open > 0"
            >Save</VBtn
          >
          <VBtn v-if="changed" @click="Object.assign(fields, pick(base))">Back to what is saved</VBtn>
          <span v-if="open > 0" class="soft" role="status"
            >{{ open === 1 ? '1 decision is' : `${open.toLocaleString('en')} decisions are` }} left to take.</span
          >
        </div>
      </template>
    </form>
    <div class="side">
      <CapacityPanel
        :rules="fields"
        :capitals-matter="fields.capitalsMatter"
        :taken="base.capacity.taken"
        @take="fields.randomLength = $event"
      />
      <ForgivenessForm :domain="domain" :report="store.report" />
    </div>
  </div>
  <VAlert v-else-if="store.problem" type="error" variant="tonal" density="compact">{{ store.problem }}</VAlert>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 640px) minmax(300px, 420px);
  gap: 24px;
  align-items: start;
}
.form,
.side {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
}
.plain {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  align-items: center;
  border: 0;
}
.mono-area :deep(textarea) {
  font-family: var(--fides-mono);
  font-size: 13px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
