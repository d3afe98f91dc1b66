<script setup lang="ts">
import { computed, ref } from 'vue'
import { changedFields } from '~/composables/ledger-words'
import type { ComparedSubject, Comparison, LedgerEntry } from '~~/core/schemas'

/** What differs in the register between two moments, with the way back for each. */
const ledger = useLedgerStore()
const session = useSessionStore()
const { short, fromField, toField, zone } = useMoments()
const from = ref('')
const to = ref(toField(new Date().toISOString()))
const found = ref<Comparison>()
const fault = ref('')
const asking = ref(false)
async function ask() {
  const [first, second] = [fromField(from.value), fromField(to.value)]
  if (first === null || second === null) {
    fault.value = 'Give two moments.'
    return
  }
  asking.value = true
  fault.value = ''
  try {
    found.value = await ledger.compare(first, second)
  } catch (error) {
    found.value = undefined
    fault.value = (error as Error).message
  } finally {
    asking.value = false
  }
}
const words = computed(() => {
  if (!found.value) return ''
  const { total, items } = found.value
  if (total === 0) return 'No differences'
  const count = total === 1 ? 'One thing differs' : `${total.toLocaleString('en')} things differ`
  return items.length < total ? `${count}; showing the first ${items.length}.` : `${count}.`
})
const KINDS = { link: 'Link', rule: 'Rule', domain: 'Domain' }
const fieldsOf = ({ before, after }: ComparedSubject) => changedFields({ before, after } as LedgerEntry)
const mayRestore = ({ kind, before, after }: ComparedSubject) =>
  before !== null && after !== null && kind !== 'rule' && session.may(kind === 'link' ? 'editor' : 'administrator')
async function restore(subject: ComparedSubject) {
  fault.value = ''
  try {
    await ledger.restore(subject, found.value!.from)
    useNotice().tell(`As it was on ${short(found.value!.from)}: ${subject.label}`)
  } catch (error) {
    fault.value = `${subject.label}: ${(error as Error).message}`
  }
}
</script>

<template>
  <section class="compare" aria-labelledby="compare-title">
    <h2 id="compare-title">Compare two times</h2>
    <form class="fields" @submit.prevent="ask">
      <DateField v-model="from" kind="moment" past :label="`First moment (${zone()})`" />
      <DateField v-model="to" kind="moment" past label="Second moment" />
      <VBtn type="submit" class="beside-field" :loading="asking" height="40">Compare</VBtn>
    </form>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
    <p role="status">{{ words }}</p>
    <ReplayBox
      v-if="found && found.total > 0"
      :key="`${found.from} ${found.to}`"
      class="my-2"
      :request="{ moments: { before: found.from, after: found.to } }"
      of="what was answered at the first moment and at the second"
    />
    <ul v-if="found">
      <li v-for="subject in found.items" :key="`${subject.kind} ${subject.id}`">
        <div class="what">
          <div>
            {{ KINDS[subject.kind] }}
            <NuxtLink v-if="subject.kind === 'link' && subject.after" :to="`/links/${subject.id}`" class="mono">{{
              subject.label
            }}</NuxtLink>
            <span v-else class="mono">{{ subject.label }}</span>
            <span v-if="subject.before === null" class="soft">, created</span>
            <span v-else-if="subject.after === null" class="soft">, removed</span>
          </div>
          <template v-if="subject.before && subject.after">
            <div v-for="field in fieldsOf(subject)" :key="field.name" class="field">
              <span class="soft">{{ field.name }}</span>
              <span
                ><del v-if="field.before !== ''" class="mono">{{ field.before }}</del
                ><span class="soft" aria-hidden="true"> → </span
                ><ins v-if="field.after !== ''" class="mono">{{ field.after }}</ins></span
              >
            </div>
          </template>
        </div>
        <VBtn
          v-if="mayRestore(subject)"
          variant="text"
          color="primary"
          :aria-label="`Bring back as at the first moment: ${subject.label}`"
          @click="restore(subject)"
          >As it was</VBtn
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.compare {
  padding: 10px 0 12px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-start;
  margin: 8px 0 4px;
}
.fields :deep(.date-field) {
  flex: 0 1 260px;
}
ul {
  max-height: 420px;
  padding: 0;
  margin: 4px 0 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  padding: 6px 0;
  border-top: 1px solid rgb(var(--v-theme-rule));
}
.what {
  min-width: 0;
  overflow-wrap: anywhere;
}
.field {
  display: flex;
  gap: 10px;
  font-size: 13px;
}
.field > :first-child {
  flex: 0 0 92px;
}
del {
  color: rgb(var(--v-theme-soft));
}
ins {
  text-decoration: none;
}
</style>
