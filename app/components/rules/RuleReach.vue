<script setup lang="ts">
import { computed } from 'vue'
import { faultOf, useLatest } from '~/composables/useLatest'
import { PREVIEW_MS } from '~/stores/rules'

/** What the rule in hand matches, hides and is hidden by, while it is typed. `mine`: its number among `drafts`. */
const { domain, drafts, mine, isOn } = defineProps<{
  domain: string
  drafts: Record<string, unknown>[]
  mine: number
  isOn: boolean
}>()
const asked = computed(() => {
  const pattern = drafts[mine - 1]?.pattern
  return typeof pattern === 'string' && pattern.trim() !== '' ? { domain, rules: drafts, mine } : undefined
})
const store = useRulesStore()
const { answer: preview, error, busy } = useLatest(asked, store.preview, PREVIEW_MS)
const reach = computed(() => preview.value?.reach)
const fault = computed(() => preview.value?.faults.find(({ rule }) => rule === mine)?.sentence ?? faultOf(error.value))
const MAX_SHOWN = 5
const hiddenBy = computed(() => reach.value?.before.find(({ whole }) => whole))
/** Rules before it and after it that share addresses with it, the first few of each, with what that means. */
const meetings = computed(() =>
  [
    { of: reach.value?.before ?? [], whole: 'matches all its addresses first', part: 'matches some first' },
    { of: reach.value?.after ?? [], whole: 'never applies behind it', part: 'loses some to it' },
  ].map(({ of, whole, part }, index) => ({
    shown: of.slice(0, MAX_SHOWN).map((meeting) => ({ ...meeting, words: meeting.whole ? whole : part })),
    more: of.length > MAX_SHOWN ? `and ${of.length - MAX_SHOWN} more ${index === 0 ? 'earlier' : 'later'} rules` : '',
  })),
)
</script>

<template>
  <section v-if="asked" class="reach" aria-labelledby="reach-title" :aria-busy="busy">
    <h2 id="reach-title">What this rule matches</h2>
    <div role="status">
      <p v-if="fault" class="soft">Not compared yet. {{ fault }}</p>
      <p v-else-if="!preview" class="soft">Comparing…</p>
      <p v-else-if="!isOn" class="soft">Switched off, it matches nothing.</p>
      <p v-else-if="!reach" class="soft">These patterns are too complex to be compared.</p>
      <ul v-else>
        <li v-if="reach.example">
          <StateMark state="sound" /> Applies to <span class="mono">{{ reach.example }}</span>
        </li>
        <li v-else-if="hiddenBy"><StateMark state="broken" /> Never applies: earlier rules match all of it.</li>
        <li v-else><StateMark state="doubtful" /> No address was found that reaches it.</li>
        <li v-if="reach.links > 0">
          <StateMark state="idle" /> <b>{{ reach.links.toLocaleString('en') }}</b>
          {{ reach.links === 1 ? 'link matches it and answers' : 'links match it and answer' }} first:
          <span class="mono"
            >{{ reach.linkExamples.join(', ') }}{{ reach.links > reach.linkExamples.length ? ', …' : '' }}</span
          >
        </li>
        <template v-for="(group, index) in meetings" :key="index">
          <li v-for="meeting in group.shown" :key="meeting.rule">
            <StateMark :state="meeting.whole ? 'broken' : 'doubtful'" /> Rule {{ meeting.rule }}
            <span class="mono">{{ meeting.pattern }}</span> {{ meeting.words }}, for example
            <span class="mono">{{ meeting.witness }}</span>
          </li>
          <li v-if="group.more" class="soft">{{ group.more }}</li>
        </template>
        <li v-if="reach.links + reach.before.length + reach.after.length === 0" class="soft">
          No link and no other rule matches any of its addresses.
        </li>
        <li v-for="conflict in preview.removed" :key="conflict.key">
          <StateMark state="sound" /> Resolves: {{ conflict.headline }}. {{ conflict.sentence }}
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.reach {
  margin-bottom: 16px;
  padding: 12px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
ul {
  padding: 0;
  font-size: 13px;
  list-style: none;
}
li {
  padding: 3px 0;
}
.mono {
  overflow-wrap: anywhere;
}
</style>
