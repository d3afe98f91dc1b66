<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Link } from '~~/core/schemas'
import type { Decision } from '~/stores/link'

const { link } = defineProps<{ link: Link }>()
const store = useLinkStore()
const pausing = ref(false)
const busy = ref(false)
const problem = ref('')
const { conflicts, reason, clear, take } = useConflicts()
/** A decision that waits for a reason, as it would be in conflict. */
const asked = ref<{ decision: Decision; resumesAt: string | null }>()

const DECISIONS: Record<Decision, { title: string; sentence: string; from: Link['standing'][] }> = {
  live: {
    title: 'Make live again',
    sentence: 'Visitors reach the destination again.',
    from: ['paused', 'ended', 'retired'],
  },
  paused: { title: 'Pause…', sentence: 'Visitors see the Paused page.', from: ['live', 'scheduled'] },
  ended: {
    title: 'End',
    sentence: 'Visitors go to the ended address, or see the Ended page.',
    from: ['live', 'scheduled', 'paused'],
  },
  retired: {
    title: 'Retire',
    sentence: 'Visitors see the Gone page (410). The slug stays reserved.',
    from: ['live', 'scheduled', 'paused', 'ended'],
  },
}
const titleOf = (decision: Decision) =>
  decision === 'live' && link.standing === 'paused' ? 'Resume' : DECISIONS[decision].title
const offered = computed(() =>
  (Object.keys(DECISIONS) as Decision[]).filter((decision) => DECISIONS[decision].from.includes(link.standing)),
)

async function decide(decision: Decision, resumesAt: string | null = null) {
  busy.value = true
  problem.value = ''
  try {
    await store.decide(link, decision, resumesAt, reason.value.trim())
    pausing.value = false
    leave()
  } catch (error) {
    if (take(error)) return void (asked.value = { decision, resumesAt })
    problem.value = (error as Error).message
    if (!pausing.value) useNotice().tell(problem.value)
  } finally {
    busy.value = false
  }
}
function leave() {
  asked.value = undefined
  reason.value = ''
  clear()
}
const choose = (decision: Decision) => (decision === 'paused' ? (pausing.value = true) : decide(decision))
</script>

<template>
  <VMenu>
    <template #activator="{ props }">
      <VBtn v-bind="props" :loading="busy">Standing…</VBtn>
    </template>
    <VList density="compact" max-width="340">
      <VListItem
        v-for="decision in offered"
        :key="decision"
        :title="titleOf(decision)"
        :subtitle="DECISIONS[decision].sentence"
        lines="two"
        @click="choose(decision)"
      />
    </VList>
  </VMenu>
  <VDialog
    :model-value="asked !== undefined"
    max-width="560"
    :aria-label="`${link.address} would be in conflict`"
    @update:model-value="leave"
  >
    <VCard class="pa-5">
      <ConflictNotice v-model:reason="reason" :conflicts="conflicts" />
      <div class="d-flex ga-2 mt-4">
        <VBtn
          color="primary"
          variant="flat"
          :loading="busy"
          :disabled="reason.trim() === ''"
          @click="decide(asked!.decision, asked!.resumesAt)"
          >{{ asked && titleOf(asked.decision).replace('…', '') }} anyway</VBtn
        >
        <VBtn @click="leave">Cancel</VBtn>
      </div>
    </VCard>
  </VDialog>
  <PauseDialog
    :key="link.id"
    v-model="pausing"
    :link="link"
    :problem="problem"
    :busy="busy"
    @pause="decide('paused', $event)"
  />
</template>
