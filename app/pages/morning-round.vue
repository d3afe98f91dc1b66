<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { visitsADay } from '~/composables/visits-a-day'
import type { RoundApplied, RoundFix } from '~~/core/schemas'

useHead({ title: 'Morning round · Fides' })
const docket = useDocketStore()
const session = useSessionStore()
const { short } = useMoments()
const problem = ref('')
const busy = ref(false)
const reason = ref('')
const done = ref<RoundApplied>()
/** Fixes left out by the person; all others are applied. */
const left = ref<ReadonlySet<number>>(new Set())
const read = () => docket.readRound().catch((error: Error) => (problem.value = error.message))
onMounted(read)

const groups = computed(() => docket.round?.groups ?? [])
const all = computed(() => groups.value.flatMap(({ fixes }) => fixes))
const chosen = computed(() => all.value.filter((fix) => !left.value.has(fix.case)))
const sum = (of: (fix: RoundFix) => number) => chosen.value.reduce((total, fix) => total + of(fix), 0)
const effect = computed(() => [
  { name: 'visits a day affected', value: visitsADay(sum(({ visits }) => visits)) },
  { name: 'links changed', value: sum(({ links }) => links).toLocaleString('en') },
  { name: 'slugs added', value: sum(({ slugs }) => slugs).toLocaleString('en') },
  { name: 'cases settled', value: chosen.value.length.toLocaleString('en') },
])
const oldest = computed(() => chosen.value.map(({ verifiedAt }) => verifiedAt).sort()[0])
const words = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'fix' : 'fixes'}`

function turn(fixes: readonly RoundFix[], on: boolean) {
  const next = new Set(left.value)
  for (const { case: id } of fixes) {
    if (on) next.delete(id)
    else next.add(id)
  }
  left.value = next
}

async function apply() {
  if (busy.value || chosen.value.length === 0) return
  busy.value = true
  problem.value = ''
  try {
    done.value = await docket.applyRound(
      chosen.value.map(({ case: id, version }) => ({ case: id, version })),
      reason.value.trim(),
    )
    await Promise.all([read(), docket.loadTotal()])
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
async function undo() {
  const id = done.value?.entry
  if (!id) return
  busy.value = true
  try {
    await callApi(`/ledger/${id}/undo`, { method: 'POST', body: {} })
    done.value = undefined
    useNotice().tell('Undone: morning round')
    await Promise.all([read(), docket.loadTotal()])
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
useShortcuts({ a: () => session.may('administrator') && apply(), u: undo })
</script>

<template>
  <div class="page">
    <header class="head">
      <span class="soft">‹ <NuxtLink to="/docket">Docket</NuxtLink></span>
      <h1>Morning round</h1>
      <span class="soft" role="status"
        ><template v-if="docket.round"
          >{{ words(all.length)
          }}<template v-if="oldest">, verified since {{ short(oldest) }}, reversible as one change</template></template
        ></span
      >
      <VSpacer />
      <VBtn
        v-if="session.may('administrator')"
        color="primary"
        variant="flat"
        :disabled="chosen.length === 0"
        :loading="busy"
        @click="apply"
        >Apply {{ words(chosen.length) }} <kbd class="mono key">a</kbd></VBtn
      >
    </header>
    <VAlert v-if="problem" type="error" class="mb-3" role="alert">
      {{ problem }} <VBtn variant="text" @click="read">Read the plan again</VBtn>
    </VAlert>
    <section v-if="done" class="done" role="status">
      <p>
        <template v-if="done.entry"
          ><b>{{ words(done.applied) }} applied</b> as <NuxtLink to="/ledger">one entry in the ledger</NuxtLink>.
          {{ done.liveAt ? `Live from ${short(done.liveAt)}.` : 'Live now.' }}</template
        ><template v-else><b>Nothing was applied.</b></template>
      </p>
      <ul v-if="done.dropped.length > 0">
        <li v-for="item in done.dropped" :key="item.case">
          <b class="mono">{{ item.address || `Case ${item.case}` }}</b> left out: {{ item.why }}
        </li>
      </ul>
      <VBtn v-if="done.entry" :loading="busy" @click="undo">Undo <kbd class="mono key">u</kbd></VBtn>
    </section>
    <p v-if="docket.round && all.length === 0" class="soft">No case can be fixed without a decision.</p>
    <div v-else class="columns">
      <div class="plan">
        <RoundGroupRows v-for="group in groups" :key="group.key" :group="group" :left="left" @turn="turn" />
      </div>
      <aside class="side">
        <section class="box" aria-labelledby="effect-title">
          <h2 id="effect-title">Effect</h2>
          <dl>
            <div v-for="{ name, value } in effect" :key="name">
              <dt>{{ name }}</dt>
              <dd>{{ value }}</dd>
            </div>
          </dl>
        </section>
        <VTextField
          v-if="session.may('administrator')"
          v-model="reason"
          label="Reason (optional, kept in the ledger)"
          maxlength="500"
        />
        <p class="soft note">
          One entry in the ledger, one undo. Destinations that were verified more than 10 minutes ago are verified again
          first. Fixes that are no longer true are left out and listed.
        </p>
      </aside>
    </div>
  </div>
</template>

<style scoped>
.page {
  max-width: 1920px;
  padding: 10px 20px 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-bottom: 12px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 24px;
  align-items: start;
}
.plan {
  border: 1px solid rgb(var(--v-theme-rule));
}
.box {
  padding: 12px 14px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.box dl > div {
  display: flex;
  justify-content: space-between;
  padding: 4px 0;
}
.box dd {
  font-weight: 600;
  font-variant-numeric: tabular-nums;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.note {
  font-size: 13px;
}
.done {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 12px;
  padding: 10px 14px;
  border-left: 4px solid rgb(var(--v-theme-success));
  background: rgb(var(--v-theme-tint-success));
}
.done ul {
  flex-basis: 100%;
  padding-left: 18px;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
@media (max-width: 999px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    order: -1;
  }
}
@media (max-width: 699px) {
  .page {
    padding: 8px 12px 24px;
  }
}
</style>
