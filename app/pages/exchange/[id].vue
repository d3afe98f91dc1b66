<script setup lang="ts">
import { computed, onBeforeUnmount, watch } from 'vue'
import { bringWords, INTAKE_STATES } from '~/composables/exchange-words'
import type { IntakeCause, IntakeDecision, IntakeOptions, IntakeRow } from '~~/core/schemas'

const route = useRoute()
const exchange = useExchangeStore()
const session = useSessionStore()
const { short } = useMoments()
const id = computed(() => Number(route.params.id))
watch(id, (now) => exchange.open(now), { immediate: true })
onBeforeUnmount(() => exchange.close())

const intake = computed(() => (exchange.current?.id === id.value ? exchange.current : undefined))
useHead({ title: () => `${intake.value?.name ?? 'File'} · Fides` })
const taken = computed(() => intake.value!.families.filter((family) => family.taken).map(({ number }) => number))
const mayDecide = computed(() => session.may('editor') && exchange.isOpen)
const { busy, fault, act } = useInTurn(() => exchange.look(id.value))
const decide = (row: IntakeRow, decision: IntakeDecision | null) =>
  act(() => exchange.decide({ positions: [row.position], decision }))
const decideCause = ({ code, cause }: IntakeCause, decision: IntakeDecision | null) =>
  act(() => exchange.decide({ code, cause, decision }))
const take = (number: number, wanted: boolean) =>
  act(() =>
    exchange.change({ families: wanted ? [...taken.value, number] : taken.value.filter((one) => one !== number) }),
  )
const apply = () =>
  act(async () => {
    // Pressed twice, it imports once.
    if (!exchange.isOpen) return
    const words = bringWords(intake.value!.counts)
    await exchange.apply()
    const { entry, name } = intake.value!
    useNotice().tell(
      words.replace('Import', 'Imported'),
      entry === null
        ? undefined
        : () => useLedgerStore().undo({ id: entry, subject: { kind: 'links', id: 0, label: name } }),
    )
  })
const letGo = () =>
  act(async () => {
    await exchange.letGo()
    await navigateTo('/exchange')
  })
const readAgain = (options: IntakeOptions) => act(() => exchange.readAgain(options))
const nothing = computed(() => {
  const { bring, rules, replace } = intake.value!.counts
  return bring + rules + replace === 0
})
</script>

<template>
  <div class="page">
    <VAlert v-if="exchange.problem" type="error" variant="tonal" density="compact">
      {{ exchange.problem }} <VBtn variant="text" @click="exchange.open(id)">Try again</VBtn>
    </VAlert>
    <template v-if="intake">
      <header class="head">
        <h1>
          Proposal from <span class="mono">{{ intake.name }}</span>
        </h1>
        <span class="soft">
          <template v-if="intake.readAs"
            >{{ intake.lines.toLocaleString('en') }} lines read as {{ intake.readAs }} ·
          </template>
          <StateMark :state="INTAKE_STATES[intake.state].state" /> {{ INTAKE_STATES[intake.state].words }}
        </span>
        <VSpacer />
        <NuxtLink to="/exchange">Exchange</NuxtLink>
      </header>
      <p class="soft mb-2">
        For {{ intake.options.domain }}, uploaded by {{ intake.actor }}, {{ short(intake.madeAt)
        }}<template v-if="intake.entry">. <NuxtLink to="/ledger">Undo in the ledger</NuxtLink></template>
      </p>
      <p v-if="intake.follows" class="mb-2">
        A file with this name was imported
        <NuxtLink :to="`/exchange/${intake.follows.id}`">{{ short(intake.follows.at) }}</NuxtLink>. Differences since
        then are shown first.
      </p>
      <p v-if="intake.permanent > 0" class="mb-2">
        <StateMark state="doubtful" /> {{ intake.permanent.toLocaleString('en') }}
        {{ intake.permanent === 1 ? 'line redirects' : 'lines redirect' }} permanently on the current server. Browsers
        that cached these redirects may not see later changes; for how long is unknown.
      </p>
      <p v-if="intake.problem" class="warning-notice mb-3" role="status">{{ intake.problem }}</p>
      <WorkBox v-if="intake.state === 'reading'" :intake="intake" @stop="letGo" />
      <WorkBox v-else-if="intake.state === 'applying'" :intake="intake" @stop="exchange.stop()" />
      <ReadingBox
        v-if="session.may('editor') && (intake.state === 'ready' || intake.state === 'failed')"
        :intake="intake"
        :busy="busy"
        @read="readAgain"
      />
      <div v-if="intake.state === 'ready' || intake.state === 'applied' || intake.state === 'applying'" class="columns">
        <section aria-label="Result for each line">
          <IntakeFilters :intake="intake" :filter="exchange.filter" @choose="exchange.listRows($event)" />
          <FamilyBox
            v-for="family in intake.families"
            :key="family.number"
            :family="family"
            :may-decide="mayDecide"
            @take="take(family.number, $event)"
          />
          <IntakeCauses
            v-if="intake.state === 'ready'"
            :causes="intake.causes"
            :may-decide="mayDecide"
            @decide="decideCause"
          />
          <IntakeRows
            :rows="exchange.rows"
            :next="exchange.next"
            :loading="exchange.loading"
            :may-decide="mayDecide"
            :taken="taken"
            @more="exchange.moreRows()"
            @decide="decide"
          />
          <details v-if="intake.remarks.length > 0" class="mt-3">
            <summary>{{ intake.remarks.length === 1 ? 'One remark' : `${intake.remarks.length} remarks` }}</summary>
            <ul class="remarks">
              <li v-for="(remark, index) in intake.remarks" :key="index">
                <span class="soft">Line {{ remark.line }}</span> {{ remark.sentence }}
              </li>
            </ul>
          </details>
        </section>
        <aside class="side">
          <ReplayBox
            v-if="intake.state === 'ready'"
            :key="`${intake.id} ${intake.version}`"
            :request="{ intake: intake.id }"
            of="the table as it would be with this file"
          />
          <LogBox v-if="intake.state === 'ready' && session.may('editor')" :intake="intake.id" />
          <TargetsBox :checks="intake.checks" />
          <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
          <template v-if="intake.state === 'ready'">
            <VBtn
              v-if="session.may('administrator')"
              color="primary"
              variant="flat"
              :disabled="nothing"
              :loading="busy"
              @click="apply"
              >{{ bringWords(intake.counts) }}</VBtn
            >
            <p v-else class="soft">{{ bringWords(intake.counts) }}: needs an administrator.</p>
            <p class="soft">
              <template v-if="intake.counts.undecided > 0"
                >{{ intake.counts.undecided.toLocaleString('en') }}
                {{ intake.counts.undecided === 1 ? 'line needs' : 'lines need' }} a decision and will not be imported
                until then.
              </template>
              One entry in the ledger, one undo.
            </p>
            <AskBox v-if="session.may('editor')" :intake="intake.id" />
            <div class="ways">
              <VBtn to="/exchange">Decide later</VBtn>
              <VBtn v-if="session.may('editor')" variant="text" :disabled="busy" @click="letGo">Discard</VBtn>
            </div>
          </template>
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
  overflow-wrap: anywhere;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 20px;
  align-items: start;
}
.ways {
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
.remarks {
  padding: 4px 0 0 18px;
  font-size: 13px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
