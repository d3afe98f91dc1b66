<script setup lang="ts">
import { ref } from 'vue'
import type { PastAnswer } from '~~/core/schemas'

/** What an address led to at a moment of the past, and who decided that. */
const ledger = useLedgerStore()
const session = useSessionStore()
const { short, exact, fromField, zone } = useMoments()
const domains = useDomainsStore()
if (!domains.loaded) void domains.load().catch(() => undefined)
const address = ref('')
const at = ref('')
const answer = ref<PastAnswer>()
const fault = ref('')
const asking = ref(false)
/** A path alone is of the first domain, as on printed material. */
const whole = (text: string) => (text.startsWith('/') ? `${domains.domains[0]?.host ?? ''}${text}` : text)
async function ask() {
  const moment = fromField(at.value)
  if (address.value.trim() === '' || moment === null) {
    fault.value = 'Enter a short address, for example ansl.example/fares, and a date and time.'
    return
  }
  asking.value = true
  fault.value = ''
  try {
    answer.value = await ledger.lookUpPast(whole(address.value.trim()), moment)
  } catch (error) {
    answer.value = undefined
    fault.value = (error as Error).message
  } finally {
    asking.value = false
  }
}
const restoring = ref(false)
/** Brings the link that answered then back to what it was. */
async function restore({ link, address: label, at: moment }: PastAnswer) {
  restoring.value = true
  fault.value = ''
  try {
    await ledger.restore({ kind: 'link', id: link! }, moment)
    useNotice().tell(`As it was on ${short(moment)}: ${label}`)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    restoring.value = false
  }
}
</script>

<template>
  <section class="past" aria-labelledby="past-title">
    <h2 id="past-title">Past destination</h2>
    <form class="fields" @submit.prevent="ask">
      <VTextField v-model="address" class="mono address" label="Short address" maxlength="4000" />
      <DateField v-model="at" kind="moment" past :label="`Date and time (${zone()})`" />
      <VBtn type="submit" class="beside-field" :loading="asking" height="40">Look up</VBtn>
    </form>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
    <div v-if="answer" role="status">
      <p>
        <b class="mono">{{ answer.address }}</b>, {{ exact(answer.at) }}: <b>{{ answer.status }}</b>
        <template v-if="answer.location"> → <LongAddress :address="answer.location" wrap /></template>
        <template v-else>, {{ answer.sentence }}</template>
      </p>
      <p v-if="answer.decided" class="soft">
        Decided {{ short(answer.decided.at) }} by {{ answer.decided.actor
        }}<template v-if="answer.decided.reason">: “{{ answer.decided.reason }}”</template><template v-else>.</template
        >{{ ' ' }}<NuxtLink v-if="answer.link" :to="`/links/${answer.link}`">The link today</NuxtLink>
      </p>
      <VBtn
        v-if="answer.by === 'link' && answer.link && session.may('editor')"
        class="mt-2"
        :loading="restoring"
        @click="restore(answer)"
        >Restore the link as it was then</VBtn
      >
    </div>
  </section>
</template>

<style scoped>
.past {
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
.address {
  flex: 1 1 220px;
  max-width: 420px;
}
.fields :deep(.date-field) {
  flex: 0 1 240px;
}
</style>
