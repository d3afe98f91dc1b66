<script setup lang="ts">
import { computed, onBeforeUnmount, watch } from 'vue'
import { PROPOSAL_STATES } from '~/composables/change-words'
import type { ProposalPatch, ProposalRow } from '~~/core/schemas'
import type { RowFilter } from '~/stores/changes'

const route = useRoute()
const changes = useChangesStore()
const session = useSessionStore()
const { short } = useMoments()
const id = computed(() => Number(route.params.id))
watch(id, (now) => changes.open(now), { immediate: true })
onBeforeUnmount(() => changes.close())
useHead({ title: () => `Change ${id.value} · Fides` })

const proposal = computed(() => (changes.current?.id === id.value ? changes.current : undefined))
const FILTERS: {
  value: RowFilter
  words: string
  of: 'change' | 'clash' | 'unchanged' | 'refused' | 'checkFailed' | 'leftOut'
}[] = [
  { value: 'change', words: 'Changes', of: 'change' },
  { value: 'unchanged', words: 'Unchanged', of: 'unchanged' },
  { value: 'clash', words: 'Clashes', of: 'clash' },
  { value: 'refused', words: 'Refused', of: 'refused' },
  { value: 'check-failed', words: 'Check failed', of: 'checkFailed' },
  { value: 'left-out', words: 'Left out', of: 'leftOut' },
]
const all = computed(() => {
  const { change, clash, unchanged, refused, leftOut } = proposal.value!.counts
  return change + clash + unchanged + refused + leftOut
})
const { busy, fault, act } = useInTurn(() => changes.look(id.value))
const make = () =>
  act(async () => {
    // Pressed twice it is made once.
    if (!changes.isOpen) return
    const made = await changes.apply()
    useNotice().tell(
      made.state === 'waiting'
        ? `Set for ${short(made.at!)}`
        : `Changed ${made.counts.change.toLocaleString('en')} links`,
    )
  })
const leave = (row: ProposalRow, leftOut: boolean) =>
  act(() => changes.leaveOut({ positions: [row.position], leftOut }))
const mayChange = computed(() => session.may('editor') && changes.isOpen)
</script>

<template>
  <div class="page">
    <VAlert v-if="changes.problem" type="error" variant="tonal" density="compact">
      {{ changes.problem }} <VBtn variant="text" @click="changes.open(id)">Try again</VBtn>
    </VAlert>
    <template v-if="proposal">
      <header class="head">
        <h1>Change links</h1>
        <span class="soft"
          ><StateMark :state="PROPOSAL_STATES[proposal.state].state" />
          {{ PROPOSAL_STATES[proposal.state].words }}</span
        >
        <VSpacer />
        <NuxtLink to="/changes">Changes so far</NuxtLink>
      </header>
      <p class="words">
        {{ proposal.words.charAt(0).toUpperCase() + proposal.words.slice(1) }}.
        <span class="soft"
          >Proposed by {{ proposal.actor }}, {{ short(proposal.madeAt)
          }}<template v-if="proposal.reason">: “{{ proposal.reason }}”</template></span
        >
      </p>
      <p v-if="proposal.problem" class="warning-notice mb-3" role="status">{{ proposal.problem }}</p>
      <p v-if="proposal.counts.unknown.length > 0" class="warning-notice mb-3">
        {{ proposal.counts.unknown.length.toLocaleString('en') }} addresses are not in the register:
        <span class="mono">{{ proposal.counts.unknown.slice(0, 12).join(', ') }}</span>{{
          proposal.counts.unknown.length > 12 ? ' and more' : ''
        }}.
      </p>
      <div v-if="proposal.state === 'computing'" role="status" class="working">
        {{ proposal.done.toLocaleString('en') }} of {{ proposal.total.toLocaleString('en') }} links looked at
        <VProgressLinear
          :model-value="(100 * proposal.done) / Math.max(1, proposal.total)"
          :indeterminate="proposal.total === 0"
          color="primary"
          aria-label="Links looked at"
        />
      </div>
      <div v-else class="columns">
        <section aria-label="Effect on each link">
          <div class="filters" role="group" aria-label="Show">
            <VBtn
              size="small"
              :color="changes.filter === undefined ? 'primary' : undefined"
              :aria-pressed="changes.filter === undefined"
              @click="changes.listRows(undefined)"
              >All {{ all.toLocaleString('en') }}</VBtn
            >
            <VBtn
              v-for="one in FILTERS"
              :key="one.words"
              size="small"
              :color="changes.filter === one.value ? 'primary' : undefined"
              :aria-pressed="changes.filter === one.value"
              :disabled="proposal.counts[one.of] === 0"
              @click="changes.listRows(one.value)"
              >{{ one.words }} {{ proposal.counts[one.of].toLocaleString('en') }}</VBtn
            >
            <VBtn
              v-if="mayChange && proposal.counts.checkFailed > 0"
              size="small"
              variant="text"
              @click="act(() => changes.leaveOut({ kind: 'check-failed', leftOut: true }))"
              >Leave out those that do not answer</VBtn
            >
          </div>
          <ProposalRows
            :rows="changes.rows"
            :next="changes.next"
            :loading="changes.loading"
            :may-leave-out="mayChange"
            @more="changes.moreRows()"
            @leave="leave"
          />
        </section>
        <aside class="side">
          <ReplayBox :key="proposal.id" :request="{ proposal: proposal.id }" />
          <TargetsBox :checks="proposal.checks" />
          <p v-if="proposal.counts.permanent.links > 0" class="warning-notice">
            {{
              proposal.counts.permanent.links === 1
                ? 'One of these links answers'
                : `${proposal.counts.permanent.links.toLocaleString('en')} of these links answer`
            }}
            permanently. About {{ proposal.counts.permanent.holders.toLocaleString('en') }} people’s browsers may keep
            using the old destination<template v-if="proposal.counts.permanent.until">
              until {{ short(proposal.counts.permanent.until) }}</template
            >.
          </p>
          <p v-if="proposal.counts.checkFailed > 0 && changes.isOpen" class="warning-notice">
            {{
              proposal.counts.checkFailed === 1
                ? 'One link'
                : `${proposal.counts.checkFailed.toLocaleString('en')} links`
            }}
            would have a destination that failed its check. Visitors may not arrive.
          </p>
          <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
          <MakeBox
            :proposal="proposal"
            :busy="busy"
            :may-make="session.may('administrator')"
            :may-change="mayChange"
            @make="make"
            @again="act(() => changes.again())"
            @withdraw="act(() => changes.withdraw())"
            @change="act(() => changes.change($event as ProposalPatch))"
          />
        </aside>
      </div>
    </template>
  </div>
</template>

<style scoped>
.page {
  max-width: 1500px;
  padding: 14px 20px 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}
.words {
  margin: 4px 0 12px;
  overflow-wrap: anywhere;
}
.working {
  max-width: 480px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 20px;
  align-items: start;
}
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 10px;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
