<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import type { ReplayRequest } from '~~/core/schemas'
import { FATE_WORDS } from '~/composables/change-words'

/**
 * Past requests put to the table as it is and as it would be, as `request` says; each count opens its examples. With
 * `auto` they are put anew automatically once what is asked has not changed for a moment.
 */
const {
  request,
  of = 'the proposed table',
  auto = false,
} = defineProps<{ request: Partial<ReplayRequest>; of?: string; auto?: boolean }>()
const session = useSessionStore()
const { replay: told, problem, start, stop, forget } = useReplay()
const replay = computed(() => told.value)
const mayStart = computed(() => session.may('editor'))
const AUTO_MS = 1500
const RETRY_MS = 1000
const wanted = computed(() => (auto && mayStart.value ? JSON.stringify(request) : ''))
const asked = refDebounced(wanted, AUTO_MS)
const waiting = ref(false)
let retry: ReturnType<typeof setTimeout> | undefined
/** What was told is of something else now, and need not go on. */
function letGo() {
  clearTimeout(retry)
  waiting.value = false
  if (told.value?.state === 'running') void stop().catch(() => undefined)
}
async function startAsked(now: string) {
  const isStarted = await start(JSON.parse(now) as Partial<ReplayRequest>)
  if (now !== wanted.value) return
  waiting.value = !isStarted
  // A member has one replay at a time; that of a moment ago may still be ending.
  if (!isStarted) retry = setTimeout(() => startAsked(now), RETRY_MS)
}
watch(wanted, () => {
  letGo()
  forget()
})
watch(asked, (now) => now !== '' && now === wanted.value && startAsked(now), { immediate: true })
onScopeDispose(() => auto && letGo())
const opened = ref('')
const shown = computed(() =>
  FATE_WORDS.map((kind) => ({
    ...kind,
    count: replay.value?.counts[kind.fate] ?? 0,
    examples: replay.value?.examples[kind.fate] ?? [],
  })),
)
const number = (count: number) => count.toLocaleString('en')
const aDay = (count: number) => {
  const rate = count / Math.max(1, replay.value?.days ?? 1)
  return `${rate >= 10 ? number(Math.round(rate)) : rate.toFixed(1)} a day`
}
const ends = (seen: { end: string | null; status: number; loops: boolean }) =>
  seen.loops ? 'redirect loop' : seen.end === null ? `our own page, ${seen.status}` : `${seen.status} ${seen.end}`
</script>

<template>
  <section class="box" aria-labelledby="replay-title">
    <header>
      <h2 id="replay-title">Replayed</h2>
      <VSpacer />
      <VBtn v-if="replay?.state === 'running'" size="small" variant="text" @click="stop">Stop</VBtn>
      <VBtn v-else-if="mayStart" size="small" @click="start(request)">{{ replay ? 'Again' : 'Replay 28 days' }}</VBtn>
    </header>
    <p v-if="waiting" class="soft" role="status">Waiting for another replay to end…</p>
    <p v-else-if="problem" class="text-error" role="alert">{{ problem }}</p>
    <p v-if="!replay" class="soft">Runs the requests of the last 28 days through {{ of }}.</p>
    <template v-else>
      <p v-if="replay.state === 'running'" role="status">
        {{ number(replay.done) }} of about {{ number(replay.total) }} addresses asked
        <VProgressLinear
          :model-value="(100 * replay.done) / Math.max(1, replay.total)"
          :indeterminate="replay.done === 0"
          height="6"
          color="primary"
          class="mt-1"
          aria-label="Replayed"
        />
      </p>
      <p v-else-if="replay.state !== 'done'" class="soft">{{ replay.problem || 'Cancelled.' }}</p>
      <template v-else>
        <p>
          The last {{ replay.days }} days, <b>{{ number(replay.requests) }} requests</b>
        </p>
        <ul class="ruled-list">
          <li v-for="kind in shown" :key="kind.fate">
            <button
              type="button"
              class="line"
              :disabled="kind.examples.length === 0"
              :aria-expanded="opened === kind.fate"
              @click="opened = opened === kind.fate ? '' : kind.fate"
            >
              <span>{{ kind.words }}</span>
              <span class="figure"
                ><StateMark v-if="kind.count > 0" :state="kind.state" /> <b>{{ number(kind.count) }}</b></span
              >
            </button>
            <ol v-if="opened === kind.fate" class="examples">
              <li v-for="example in kind.examples" :key="example.host + example.target">
                <span class="mono">{{ example.host }}{{ example.target }}</span
                >, {{ aDay(example.count) }}
                <span class="soft">: {{ ends(example.before) }} → {{ ends(example.after) }}</span>
              </li>
            </ol>
          </li>
        </ul>
      </template>
    </template>
  </section>
</template>

<style scoped>
.box {
  padding: 12px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
header {
  display: flex;
  align-items: center;
  min-height: 28px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  width: 100%;
  min-height: 30px;
  padding: 4px 2px;
  text-align: left;
}
.line:disabled {
  color: inherit;
}
.figure {
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.examples {
  padding: 0 0 8px 18px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
