<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Proposal } from '~~/core/schemas'

/** When a proposed change is made, what stops it, and the button that makes it. */
const { proposal, mayMake, mayChange, busy } = defineProps<{
  proposal: Proposal
  mayMake: boolean
  mayChange: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  make: []
  withdraw: []
  again: []
  change: [patch: { at?: string | null; stops?: Proposal['stops'] }]
}>()
const { short, toField, fromField, zone } = useMoments()
const later = ref(proposal.at !== null)
const at = ref(toField(proposal.at))
watch(
  () => proposal.at,
  (now) => {
    at.value = toField(now)
    later.value = now !== null
  },
)
const open = computed(() => ['ready', 'waiting', 'held'].includes(proposal.state))
const links = computed(() => proposal.counts.change)
const linkWords = computed(() => (links.value === 1 ? '1 link' : `${links.value.toLocaleString('en')} links`))
function choose(wanted: boolean) {
  later.value = wanted
  if (!wanted && proposal.at !== null) emit('change', { at: null })
}
const keepMoment = () => at.value && emit('change', { at: fromField(at.value) })
const stop = (name: keyof Proposal['stops'], value: boolean | null) =>
  emit('change', { stops: { ...proposal.stops, [name]: value === true } })
</script>

<template>
  <section class="make" aria-label="Apply">
    <template v-if="open">
      <VCheckbox
        :model-value="later"
        :disabled="!mayChange"
        label="Schedule"
        hide-details
        density="compact"
        @update:model-value="choose($event === true)"
      />
      <template v-if="later">
        <DateField
          v-model="at"
          kind="moment"
          :label="`Date and time (${zone()})`"
          :readonly="!mayChange"
          @change="keepMoment"
        />
        <VCheckbox
          :model-value="proposal.stops.broken"
          :disabled="!mayChange"
          label="Put on hold if a new destination does not answer"
          hide-details
          density="compact"
          @update:model-value="stop('broken', $event)"
        />
        <VCheckbox
          :model-value="proposal.stops.changed"
          :disabled="!mayChange"
          label="Put on hold if a link has changed since"
          hide-details
          density="compact"
          @update:model-value="stop('changed', $event)"
        />
      </template>
      <p v-if="proposal.state === 'waiting' && proposal.at" role="status">
        <StateMark state="idle" /> Scheduled for {{ short(proposal.at) }}.
      </p>
      <VBtn
        v-else-if="mayMake"
        color="primary"
        variant="flat"
        :loading="busy"
        :disabled="links === 0 || (later && !proposal.at)"
        @click="emit('make')"
        >{{ proposal.at ? `Set for ${short(proposal.at)}` : `Change ${linkWords}` }}</VBtn
      >
      <p v-else class="soft">Only an administrator can apply it. Send them the address of this page.</p>
      <p class="soft">Recorded as one change in the ledger; can be undone as one.</p>
      <div class="d-flex flex-wrap ga-2">
        <VBtn v-if="mayChange" @click="emit('again')">Recalculate</VBtn>
        <VBtn v-if="mayChange" @click="emit('withdraw')">Withdraw</VBtn>
      </div>
    </template>
    <p v-else-if="proposal.state === 'applied'">
      <StateMark state="sound" /> Made<template v-if="proposal.endedAt"> on {{ short(proposal.endedAt) }}</template
      >. <NuxtLink to="/ledger?kind=links">In the ledger</NuxtLink> it can be undone.
    </p>
  </section>
</template>

<style scoped>
.make {
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: flex-start;
}
.make > .v-input {
  width: 100%;
  flex: none;
}
</style>
