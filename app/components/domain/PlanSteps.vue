<script setup lang="ts">
import { mdiCheck } from '@mdi/js'
import { computed, ref } from 'vue'
import { span } from '~/composables/domain-words'
import { isOpenStanding, type PlanStepView, type PlanView } from '~~/core/schemas'

const { plan, now } = defineProps<{ plan: PlanView; now: number }>()
const store = useDomainStore()
const session = useSessionStore()
const notice = useNotice()
const { short } = useMoments()
const busy = ref(false)
const fault = ref('')
const notReached = ref(false)
const PUSHED = ['lower-ttl', 'prove', 'switch']
const isOpen = computed(() => store.domain !== undefined && isOpenStanding(store.domain.standing))
const mayChange = computed(() => session.may('administrator'))
const mayPush = (step: PlanStepView) =>
  mayChange.value &&
  plan.canPush &&
  PUSHED.includes(step.key) &&
  (step.state === 'now' || step.state === 'later') &&
  step.add.length + step.remove.length > 0
const mayOpen = computed(() => mayChange.value && !isOpen.value && store.domain?.standing !== 'not-proved')
const links = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'link' : 'links'}`

function sentence(step: PlanStepView): string {
  if (step.state === 'skipped') return 'Skipped: the switch was done without it.'
  if (step.doneAt) return `${step.sentence} Done ${short(step.doneAt)}.`
  if (step.state !== 'done' && step.until && Date.parse(step.until) > now)
    return (
      `${span(Date.parse(step.until) - now)} at most, until ${short(step.until)}.` +
      (step.key === 'wait' ? ' Keep the old server up until then.' : '')
    )
  if (step.key === 'open' && !isOpen.value)
    return plan.waiting === 0
      ? 'No links are waiting yet.'
      : `${links(plan.waiting)} ${plan.waiting === 1 ? 'is waiting and goes' : 'are waiting and go'} live at once.`
  return step.sentence
}
async function work(task: () => Promise<string>) {
  busy.value = true
  fault.value = ''
  try {
    notice.tell(await task())
    notReached.value = false
  } catch (error) {
    fault.value = (error as Error).message
    notReached.value = error instanceof ApiProblem && 'reach' in error.problem
  } finally {
    busy.value = false
  }
}
const push = (step: string) => work(async () => (await store.push(store.domain!.id, step)).sentence)
const open = (anyway: boolean) =>
  work(async () => `${store.domain!.shown} is open; ${links(await store.open(store.domain!.id, anyway))} went live.`)
</script>

<template>
  <div>
    <ol class="steps">
      <li v-for="(step, index) in plan.steps" :key="step.key" :aria-current="step.state === 'now' ? 'step' : undefined">
        <span class="number" :class="step.state"
          ><VIcon v-if="step.state === 'done'" :icon="mdiCheck" size="14" aria-label="done" /><template
            v-else-if="step.state === 'skipped'"
            >–</template
          ><template v-else>{{ index + 1 }}</template></span
        >
        <div class="what">
          <b>{{ step.title }}</b>
          <p class="soft">{{ sentence(step) }}</p>
          <VBtn v-if="mayPush(step)" size="small" class="mt-1" :loading="busy" @click="push(step.key)"
            >Place by dynamic update</VBtn
          >
          <template v-if="step.key === 'open' && mayOpen">
            <VBtn size="small" class="mt-1" :loading="busy" @click="open(false)">Open {{ store.domain?.shown }}</VBtn>
            <VBtn v-if="notReached" size="small" class="mt-1 ml-2" @click="open(true)">Open anyway</VBtn>
          </template>
        </div>
      </li>
    </ol>
    <VAlert v-if="fault" type="error" variant="tonal" density="compact" class="mt-2">{{ fault }}</VAlert>
  </div>
</template>

<style scoped>
.steps {
  padding: 0;
  list-style: none;
}
.steps > li {
  display: flex;
  gap: 10px;
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.number {
  display: flex;
  flex: none;
  align-items: center;
  justify-content: center;
  width: 21px;
  height: 21px;
  border-radius: 50%;
  background: rgb(var(--v-theme-count));
  font-size: 12px;
  font-weight: 700;
}
.number.done {
  background: rgb(var(--v-theme-success));
  color: rgb(var(--v-theme-surface));
}
.number.now {
  background: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-on-primary));
}
.what {
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
