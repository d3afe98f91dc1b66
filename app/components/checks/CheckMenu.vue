<script setup lang="ts">
import { computed } from 'vue'
import type { CheckRequest } from '~~/core/schemas'

/** Has destinations checked now: of the links picked, of a domain, or all. */
const { picked, domain = undefined } = defineProps<{ picked: ReadonlySet<number>; domain?: string }>()
const emit = defineEmits<{ done: []; clear: [] }>()
const checks = useChecksStore()
const session = useSessionStore()
const domains = useDomainsStore()
interface Choice {
  title: string
  request: CheckRequest
}
const choices = computed((): Choice[] => [
  ...(picked.size > 0
    ? [
        {
          title: `The ${picked.size === 1 ? 'one selected' : `${picked.size} selected`}`,
          request: { links: [...picked] },
        },
      ]
    : []),
  ...domains.domains
    .filter(({ host }) => domain === undefined || host === domain)
    .map(({ host, shown }) => ({ title: `All of ${shown}`, request: { domain: host } })),
  { title: 'All links', request: { all: true } },
])
const start = (request: CheckRequest) => {
  void checks.start(request, () => emit('done'))
  if (request.links) emit('clear')
}
</script>

<template>
  <VMenu v-if="session.may('editor')">
    <template #activator="{ props: activator }">
      <VBtn v-bind="activator" :disabled="checks.running">{{
        picked.size > 0 ? `Check ${picked.size}…` : 'Check now…'
      }}</VBtn>
    </template>
    <VList density="compact">
      <VListItem v-for="choice in choices" :key="choice.title" :title="choice.title" @click="start(choice.request)" />
      <VListItem v-if="picked.size > 0" title="Clear the selection" @click="$emit('clear')" />
    </VList>
  </VMenu>
</template>
