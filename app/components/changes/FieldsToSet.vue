<script setup lang="ts">
import { computed } from 'vue'
import type { Redirect } from '~~/core/rows/redirect'
import { REDIRECT_STATUSES } from '~~/core/rows/redirect-status'
import { fieldWords } from '~/composables/ledger-words'

/** Fields that all links are given alike; those that are not chosen stay as each link has them. */
const { faults } = defineProps<{ faults: Record<string, string> }>()
const set = defineModel<Record<string, unknown>>({ required: true })

const STANDINGS = ['live', 'paused', 'ended', 'retired']
const QUERIES = [
  { value: 'discard', title: 'Drop the visitor’s query' },
  { value: 'carry', title: 'Carry the visitor’s query on' },
]
/** What can be chosen, with what it starts from. */
const FIELDS: Record<string, unknown> = {
  status: 302,
  query: 'discard',
  owner: '',
  standing: 'paused',
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
}
const left = computed(() =>
  Object.keys(FIELDS)
    .filter((name) => !(name in set.value))
    .map((name) => ({ value: name, title: fieldWords(name) })),
)
const add = (name: string) => (set.value = { ...set.value, [name]: FIELDS[name] })
const drop = (name: string) =>
  (set.value = Object.fromEntries(Object.entries(set.value).filter(([one]) => one !== name)))
const put = (name: string, value: unknown) => (set.value = { ...set.value, [name]: value })
const isMoment = (name: string) => name.endsWith('At')
const { toField, fromField, zone } = useMoments()
const fault = (name: string) => faults[`change/set/${name}`]
</script>

<template>
  <div class="fields">
    <div v-for="(value, name) in set" :key="name" class="field">
      <VSelect
        v-if="name === 'status'"
        :model-value="value as Redirect['status']"
        :items="[...REDIRECT_STATUSES]"
        :label="fieldWords('status')"
        :error-messages="fault('status')"
        @update:model-value="put('status', $event)"
      />
      <VSelect
        v-else-if="name === 'standing'"
        :model-value="value as string"
        :items="STANDINGS"
        :label="fieldWords('standing')"
        @update:model-value="put('standing', $event)"
      />
      <VSelect
        v-else-if="name === 'query'"
        :model-value="value as string"
        :items="QUERIES"
        :label="fieldWords('query')"
        @update:model-value="put('query', $event)"
      />
      <DateField
        v-else-if="isMoment(String(name))"
        :model-value="toField((value as string | null) ?? null)"
        kind="moment"
        :label="`${fieldWords(String(name))} (${zone()}, empty for none)`"
        :error-messages="fault(String(name))"
        @update:model-value="put(String(name), fromField($event))"
      />
      <VTextField
        v-else
        :model-value="value ?? ''"
        :class="{ mono: name === 'endedDestination' }"
        :label="fieldWords(String(name))"
        :error-messages="fault(String(name))"
        @update:model-value="put(String(name), name === 'endedDestination' ? $event || null : $event)"
      />
      <VBtn
        variant="text"
        size="small"
        :aria-label="`Leave ${fieldWords(String(name))} as it is`"
        @click="drop(String(name))"
        >Remove</VBtn
      >
    </div>
    <VMenu v-if="left.length > 0">
      <template #activator="{ props: activator }"><VBtn v-bind="activator">Set a field…</VBtn></template>
      <VList density="compact">
        <VListItem v-for="one in left" :key="one.value" :title="one.title" @click="add(one.value)" />
      </VList>
    </VMenu>
  </div>
</template>

<style scoped>
.fields {
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: flex-start;
}
.field {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: start;
  width: 100%;
}
</style>
