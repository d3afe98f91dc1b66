<script setup lang="ts">
import { computed } from 'vue'
import { faultOf, useLatest } from '~/composables/useLatest'
import { PREVIEW_MS } from '~/stores/rules'
import type { RulesPreviewed } from '~~/core/schemas'

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
type Meeting = NonNullable<RulesPreviewed['reach']>['before'][number]
const MAX_SHOWN = 5
const hiddenBy = computed(() => reach.value?.before.find(({ whole }) => whole))
const before = (meeting: Meeting) => (meeting.whole ? 'matches all its addresses first' : 'matches some first')
const after = (meeting: Meeting) => (meeting.whole ? 'never applies behind it' : 'loses some to it')
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
        <li v-for="meeting in reach.before.slice(0, MAX_SHOWN)" :key="`b${meeting.rule}`">
          <StateMark :state="meeting.whole ? 'broken' : 'doubtful'" /> Rule {{ meeting.rule }}
          <span class="mono">{{ meeting.pattern }}</span> {{ before(meeting) }}, for example
          <span class="mono">{{ meeting.witness }}</span>
        </li>
        <li v-if="reach.before.length > MAX_SHOWN" class="soft">
          and {{ reach.before.length - MAX_SHOWN }} more earlier rules
        </li>
        <li v-for="meeting in reach.after.slice(0, MAX_SHOWN)" :key="`a${meeting.rule}`">
          <StateMark :state="meeting.whole ? 'broken' : 'doubtful'" /> Rule {{ meeting.rule }}
          <span class="mono">{{ meeting.pattern }}</span> {{ after(meeting) }}, for example
          <span class="mono">{{ meeting.witness }}</span>
        </li>
        <li v-if="reach.after.length > MAX_SHOWN" class="soft">
          and {{ reach.after.length - MAX_SHOWN }} more later rules
        </li>
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
