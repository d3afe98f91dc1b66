<script setup lang="ts">
import type { RuleFinding } from '~~/core/schemas'
import { listed } from '~~/core/text/listed'

/** What is wrong with a rule among the others, in its row, with what would mend it. */
const { findings, numberOf, mayChange } = defineProps<{
  findings: RuleFinding[]
  numberOf: (id: number) => number
  mayChange: boolean
}>()
const emit = defineEmits<{ moveBefore: [other: number] }>()

const MAX_NAMED = 5
const named = (ids: number[]) => {
  const numbers = ids.map(numberOf).sort((a, b) => a - b)
  const most = [...numbers.slice(0, MAX_NAMED).map(String), ...(numbers.length > MAX_NAMED ? ['others'] : [])]
  return `${most.length === 1 ? 'rule' : 'rules'} ${listed(most)}`
}
const sentence = ({ kind, others }: RuleFinding) =>
  kind === 'overlapping'
    ? `Overlaps ${named(others)}; this rule applies where both match`
    : others.length === 0
      ? 'Never applies: links answer every address it matches'
      : `Never applies: ${named(others)} ${others.length === 1 ? 'matches' : 'together match'} all its addresses first`
</script>

<template>
  <ul class="findings">
    <li v-for="finding in findings" :key="finding.kind + finding.others.join()">
      <StateMark :state="finding.kind === 'hidden' ? 'doubtful' : 'idle'" />
      <span :class="finding.kind === 'hidden' ? 'text-doubtful' : 'soft'"
        >{{ sentence(finding)
        }}<template v-if="finding.witness"
          >, for example <span class="mono">{{ finding.witness }}</span></template
        >.</span
      >
      <button
        v-if="mayChange && finding.moveBefore !== null"
        type="button"
        class="fix"
        @click="emit('moveBefore', finding.moveBefore)"
      >
        Move above rule {{ numberOf(finding.moveBefore) }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.findings {
  padding: 2px 0 0;
  font-size: 13px;
  list-style: none;
}
.findings .mono {
  overflow-wrap: anywhere;
}
.fix {
  min-height: 24px;
  margin-left: 6px;
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
}
@media (max-width: 700px) {
  .fix {
    display: block;
    min-height: 44px;
    margin-left: 0;
  }
}
</style>
