<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Link } from '~~/core/schemas'
import type { Decision } from '~/stores/link'

const { link } = defineProps<{ link: Link }>()
const store = useLinkStore()
const { fromField, zone } = useMoments()
const pausing = ref(false)
const resumes = ref('')
const busy = ref(false)
const problem = ref('')
const { conflicts, reason, clear, take } = useConflicts()
const asked = ref<Decision>()

const DECISIONS: Record<Decision, { title: string; sentence: string; from: Link['standing'][] }> = {
  live: { title: 'Make live', sentence: 'Visitors reach the destination again.', from: ['paused', 'ended', 'retired'] },
  paused: { title: 'Pause…', sentence: 'Visitors are told it will come back.', from: ['live', 'scheduled'] },
  ended: {
    title: 'End',
    sentence: 'Visitors go to the ended-address, or are told that it is over.',
    from: ['live', 'scheduled', 'paused'],
  },
  retired: {
    title: 'Retire',
    sentence: 'Visitors are told it is gone for good; the slug stays reserved.',
    from: ['live', 'scheduled', 'paused', 'ended'],
  },
}
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
    if (take(error)) return void (asked.value = decision)
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
        :title="DECISIONS[decision].title"
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
        <VBtn color="primary" variant="flat" :loading="busy" :disabled="reason.trim() === ''" @click="decide(asked!)"
          >{{ asked && DECISIONS[asked].title }} all the same</VBtn
        >
        <VBtn @click="leave">Cancel</VBtn>
      </div>
    </VCard>
  </VDialog>
  <VDialog v-model="pausing" max-width="420" aria-labelledby="pause-title">
    <VCard class="pa-5">
      <h1 id="pause-title" class="mb-2">Pause {{ link.address }}</h1>
      <p class="mb-4">
        With a moment to resume, visitors are told when to come back; without one, only that it is paused.
      </p>
      <VTextField
        v-model="resumes"
        type="datetime-local"
        :label="`Resumes (${zone()}), if known`"
        :error-messages="problem"
      />
      <div class="d-flex ga-2 mt-4">
        <VBtn color="primary" variant="flat" :loading="busy" @click="decide('paused', fromField(resumes))">Pause</VBtn>
        <VBtn @click="pausing = false">Cancel</VBtn>
      </div>
    </VCard>
  </VDialog>
</template>
