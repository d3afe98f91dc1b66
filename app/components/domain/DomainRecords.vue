<script setup lang="ts">
import { computed, ref } from 'vue'
import { span } from '~/composables/domain-words'
import { isOpenStanding } from '~~/core/schemas'

const { now } = defineProps<{ now: number }>()
const store = useDomainStore()
const session = useSessionStore()
const notice = useNotice()
const zoneOpen = ref(false)
const bringing = ref(false)
const handing = ref(false)
const checking = ref(false)
const plan = computed(() => store.plan)
const isOpen = computed(() => store.domain !== undefined && isOpenStanding(store.domain.standing))
const mayChange = computed(() => session.may('administrator'))
const warnings = computed(() => (plan.value?.findings ?? []).filter((finding) => finding.severity !== 'notice'))
const notices = computed(() => (plan.value?.findings ?? []).filter((finding) => finding.severity === 'notice'))
/** Whether asking again is what is done here: where something else is next, that is. */
const isMain = computed(() => !store.domain?.nextAt)
const website = computed(
  () =>
    warnings.value.some((finding) => finding.kind === 'website-on-name') &&
    !isOpen.value &&
    plan.value?.steps.some(({ key, state }) => key === 'switch' && state !== 'done') === true,
)

async function check() {
  checking.value = true
  const before = store.observations?.lookedAt
  try {
    await store.check(store.domain!.id)
    // The watch answers within a second or two; what it saw is read until it is there.
    for (let tries = 0; tries < 20 && store.observations?.lookedAt === before; tries++) {
      await new Promise((resolve) => setTimeout(resolve, 500))
      await store.read(store.domain!.id)
    }
  } catch (error) {
    notice.tell((error as Error).message)
  } finally {
    checking.value = false
  }
}
</script>

<template>
  <div v-if="plan && store.observations && store.forecast" class="records">
    <section aria-labelledby="seen-title" class="seen">
      <div class="d-flex flex-wrap align-baseline ga-3 mb-2">
        <h2 id="seen-title">Records as seen by resolvers</h2>
        <span class="soft small"
          >{{
            store.observations.lookedAt
              ? `looked ${span(now - Date.parse(store.observations.lookedAt))} ago`
              : 'not checked yet'
          }}<template v-if="store.observations.dueAt && Date.parse(store.observations.dueAt) > now"
            >; again in {{ span(Date.parse(store.observations.dueAt) - now) }}: {{ store.observations.why }}</template
          ></span
        >
        <span v-if="store.observations.ttlSpeed !== 1" class="clock"
          >Demo clock: TTLs run {{ store.observations.ttlSpeed }} times as fast</span
        >
      </div>
      <RecordMatrix :plan="plan" :observations="store.observations" :now="now" />
      <NameServers :observations="store.observations" class="mt-3" />
      <p v-if="store.observations.reach" class="mt-2">
        <StateMark :state="store.observations.reach.ok ? 'sound' : 'doubtful'" />
        {{ store.observations.reach.sentence }}
      </p>
    </section>
    <div class="main">
      <section v-if="!isOpen || store.domain?.standing === 'drifted'" aria-labelledby="spread-title">
        <h2 id="spread-title" class="mb-2">Propagation</h2>
        <SpreadTimeline :forecast="store.forecast" :now="now" />
        <p class="soft mt-1">{{ store.forecast.sentence }}</p>
      </section>
      <section v-if="plan.records.length > 0" aria-labelledby="place-title">
        <h2 id="place-title" class="mb-2">Records to place</h2>
        <p class="soft mb-2">{{ plan.why }}</p>
        <RecordsToPlace :plan="plan" />
        <VBtn v-if="mayChange" class="mt-3" @click="handing = true">Hand over to someone else…</VBtn>
      </section>
      <section v-if="warnings.length + notices.length > 0" aria-labelledby="found-title">
        <h2 id="found-title" class="mb-2">Found in the zone</h2>
        <ul class="ruled-list findings">
          <li v-for="finding in [...warnings, ...notices]" :key="finding.sentence">
            <StateMark
              :state="finding.severity === 'fatal' ? 'broken' : finding.severity === 'warning' ? 'doubtful' : 'idle'"
            /><span>{{ finding.sentence }}</span>
          </li>
        </ul>
      </section>
    </div>

    <aside aria-labelledby="plan-title" class="aside">
      <h2 id="plan-title" class="mb-2">Plan</h2>
      <VAlert v-if="plan.blocked" type="warning" variant="tonal" density="compact" class="mb-3">{{
        plan.blocked
      }}</VAlert>
      <PlanSteps :plan="plan" :now="now" />
      <div v-if="website" class="banner">
        <b><StateMark state="doubtful" /> This name is in use</b>
        <p>
          After the switch, the current server is no longer reachable as {{ store.domain?.shown }}. If it is a website,
          <NuxtLink :to="{ query: { tab: 'old-paths' } }" replace>import its paths as links</NuxtLink>
          before that.
        </p>
      </div>
      <div class="d-flex flex-wrap ga-2 mt-3">
        <VBtn
          v-if="session.may('editor')"
          :color="isMain ? 'primary' : undefined"
          :variant="isMain ? 'flat' : undefined"
          :loading="checking"
          @click="check"
          >Check again</VBtn
        >
        <VBtn v-if="plan.zoneKnown" @click="zoneOpen = true">Zone before / after</VBtn>
        <VBtn v-if="mayChange" @click="bringing = true">Read the zone…</VBtn>
      </div>
      <UpdateKeyForm v-if="mayChange && !plan.blocked" class="mt-5" :plan="plan" />
      <RemoveDomain v-if="mayChange && !isOpen && store.domain" class="mt-4" :domain="store.domain" />
    </aside>
    <LazyZoneDialog v-if="zoneOpen" v-model="zoneOpen" :plan="plan" />
    <LazyHandoverDialog v-if="handing && store.domain" v-model="handing" :domain="store.domain" />
    <LazyBringZoneDialog v-if="bringing" v-model="bringing" />
  </div>
</template>

<style scoped>
.records {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 316px;
  gap: 20px;
  align-items: start;
}
.seen {
  grid-column: 1 / -1;
  min-width: 0;
}
.main {
  display: flex;
  flex-direction: column;
  gap: 24px;
}
.small {
  font-size: 13px;
}
.clock {
  padding: 0 8px;
  border-radius: 4px;
  background: rgb(var(--v-theme-tint-info));
  font-size: 12px;
  line-height: 20px;
}
.findings > li {
  display: flex;
  gap: 8px;
  padding: 6px 0;
  overflow-wrap: anywhere;
}
.findings > li > span:last-child {
  min-width: 0;
}
.banner {
  margin-top: 14px;
  padding: 10px;
  border-left: 4px solid rgb(var(--v-theme-warning));
  background: rgb(var(--v-theme-tint-warning));
}
@media (max-width: 1000px) {
  .records {
    grid-template-columns: minmax(0, 1fr);
  }
  /* What to do comes before what is known. */
  .main {
    order: 1;
  }
}
</style>
