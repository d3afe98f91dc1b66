<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { visible } from '~~/core/misses/letter'
import { destination as destinationSchema } from '~~/core/schemas'
import type { LedgerEntry, Miss, MissDecision, Settled } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'
import { DECISION_WORDS } from '~/composables/miss-words'
import type { MissItem } from '~/stores/misses'

/** One miss to settle, or several in one go; a decision may be given with it. */
const { misses, given = undefined } = defineProps<{
  misses: Miss[]
  given?: { decision: MissDecision; link?: number }
}>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ done: [] }>()
const store = useMissesStore()
const decision = ref<MissDecision>('alias')
const destination = ref('')
const reason = ref('')
const preview = ref<Settled>()
const fault = ref('')
const busy = ref(false)
const draft = useDraft(`settle ${misses.map(({ id }) => id).join()}`, { destination, reason })
const one = computed(() => misses.length === 1)
const DECISIONS = (['alias', 'gone', 'noise', 'noise-shape', 'back', 'link', 'open'] as const).map((value) => ({
  value,
  title: value === 'alias' ? 'Add as a slug of the most likely link' : DECISION_WORDS[value],
}))
const choices = computed(() => DECISIONS.filter(({ value }) => one.value || value !== 'link'))
const items = computed((): MissItem[] =>
  misses.map((miss) => ({
    miss: miss.id,
    decision: decision.value,
    ...(decision.value === 'alias' && { link: given?.link ?? miss.ranking?.candidates[0]?.link }),
    ...(decision.value === 'link' && { destination: destination.value.trim() }),
  })),
)
const ready = computed(() => decision.value !== 'link' || destinationSchema.safeParse(destination.value).success)
watch(
  shown,
  (open) => {
    if (!open) return
    decision.value = given?.decision ?? 'alias'
    destination.value = ''
    reason.value = ''
    fault.value = ''
    draft.resume()
  },
  { immediate: true },
)
// What would be done is tried on the register as it is, and taken back.
let asked = 0
watch(
  [items, shown, ready],
  async () => {
    const mine = ++asked
    preview.value = undefined
    if (!shown.value || !ready.value) return
    try {
      const found = await store.preview(items.value)
      if (mine === asked) preview.value = found
    } catch (error) {
      if (mine === asked) fault.value = (error as Error).message
    }
  },
  { immediate: true },
)
const faulty = computed(() => preview.value?.items.filter((item) => item.fault !== null) ?? [])
const able = computed(() => preview.value?.items.filter((item) => item.fault === null) ?? [])
const sum = computed(() => preview.value?.visitors28.toLocaleString('en') ?? '')

async function settle() {
  busy.value = true
  fault.value = ''
  try {
    const wanted = new Set(able.value.map(({ miss }) => miss))
    const done = await store.settle(
      items.value.filter(({ miss }) => wanted.has(miss)),
      reason.value.trim(),
    )
    draft.forget()
    shown.value = false
    const [first] = done.items
    const label = done.items.length === 1 ? first!.address : `${done.items.length} addresses`
    useNotice().tell(
      done.items.length === 1 ? first!.sentence : `${done.items.length} addresses settled.`,
      done.entry === null ? undefined : () => undo({ id: done.entry!, subject: { kind: 'miss', id: 0, label } }),
    )
    emit('done')
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
async function undo(entry: Pick<LedgerEntry, 'id' | 'subject'>) {
  await useLedgerStore().undo(entry)
  emit('done')
}
</script>

<template>
  <VDialog v-model="shown" max-width="680" aria-labelledby="settle-title">
    <VCard class="pa-5">
      <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="settle">
        <h1 id="settle-title">
          {{ one ? `Settle ${visible(misses[0]!.address)}` : `Settle ${misses.length} in one go` }}
        </h1>
        <VSelect v-model="decision" :items="choices" label="Decision" />
        <VTextField
          v-if="decision === 'link'"
          v-model="destination"
          label="Long address it leads to"
          maxlength="8000"
          placeholder="https://"
        />
        <VTextField v-model="reason" label="Reason (kept in the ledger)" maxlength="500" />
        <section aria-live="polite">
          <p v-if="preview && able.length > 0 && (decision === 'alias' || decision === 'link' || decision === 'back')">
            Would have served <b>{{ sum }}</b> {{ sum === '1' ? 'visitor' : 'visitors' }} in the last 28 days.
          </p>
          <p v-else-if="!preview && ready && !fault" class="soft">Testing on the current register…</p>
          <p v-if="able.length > 0" class="soft">Preview</p>
          <ul v-if="preview" class="told">
            <li v-for="item in preview.items" :key="item.miss">
              <StateMark :state="item.fault === null ? 'sound' : 'broken'" />
              <span>{{
                item.fault === null ? visible(item.sentence) : `${visible(item.address)}: ${item.fault}`
              }}</span>
              <span v-if="item.visitors28 > 0" class="soft number">{{ item.visitors28.toLocaleString('en') }}</span>
            </li>
          </ul>
          <p v-if="faulty.length > 0 && able.length > 0" class="soft">
            {{ faulty.length }} cannot be settled so and {{ faulty.length === 1 ? 'stays' : 'stay' }} open.
          </p>
        </section>
        <VAlert v-if="fault" type="error" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy" :disabled="able.length === 0">{{
            one ? 'Settle' : `Settle ${able.length}`
          }}</VBtn>
          <VBtn @click="shown = false">Cancel</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>

<style scoped>
.told {
  max-height: 260px;
  overflow-y: auto;
  padding: 0;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  list-style: none;
}
.told li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 5px 10px;
  overflow-wrap: anywhere;
}
.told li + li {
  border-top: 1px solid rgb(var(--v-theme-rule));
}
.number {
  margin-left: auto;
  font-variant-numeric: tabular-nums;
}
</style>
