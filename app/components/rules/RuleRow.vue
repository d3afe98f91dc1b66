<script setup lang="ts">
import { mdiChevronDown, mdiChevronUp, mdiDragVertical } from '@mdi/js'
import { conditionWords } from '~~/core/conditions'
import type { Rule, RuleFinding } from '~~/core/schemas'

/** One rule in its order: `index` from 0, of `count`. */
const { rule, index, count, mayChange } = defineProps<{
  rule: Rule
  index: number
  count: number
  mayChange: boolean
  findings: RuleFinding[]
  numberOf: (id: number) => number
  /** Whether it matches the address looked up. */
  isAnswering: boolean
}>()
const emit = defineEmits<{ edit: []; move: [by: -1 | 1]; moveBefore: [other: number]; switch: [] }>()

function keys(event: KeyboardEvent) {
  if (!mayChange || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
  event.preventDefault()
  emit('move', event.key === 'ArrowUp' ? -1 : 1)
}
</script>

<template>
  <li class="rule" :class="{ off: !rule.active, answering: isAnswering }">
    <button
      v-if="mayChange"
      type="button"
      class="handle"
      :aria-label="`${rule.pattern}, number ${index + 1} of ${count}; move with the arrow keys`"
      @keydown="keys"
    >
      <VIcon :icon="mdiDragVertical" size="20" />
    </button>
    <span class="number soft">{{ index + 1 }}</span>
    <div class="what">
      <div class="line">
        <button type="button" class="mono pattern" @click="$emit('edit')">{{ rule.pattern }}</button><span
          v-if="rule.condition.length > 0"
          class="tag"
          >if {{ conditionWords(rule.condition) }}</span
        ><span v-if="rule.syntax === 'expression'" class="tag">expression</span
        ><span v-if="!rule.active" class="tag">off</span
        ><span class="soft note">{{ [rule.title, rule.note].filter(Boolean).join(' — ') }}</span>
      </div>
      <div class="line destination">
        <RedirectChip :status="rule.status" /> <span class="mono soft to">{{ rule.destination }}</span>
      </div>
      <div v-if="rule.except.length > 0" class="soft note">
        Except:
        <span class="mono"
          >{{ rule.except.slice(0, 6).join(', ')
          }}{{ rule.except.length > 6 ? ` and ${rule.except.length - 6} more` : '' }}</span
        >
      </div>
      <RuleFindings
        v-if="findings.length > 0"
        :findings="findings"
        :number-of="numberOf"
        :may-change="mayChange"
        @move-before="$emit('moveBefore', $event)"
      />
    </div>
    <span class="hits"
      ><b>{{ rule.visits28.toLocaleString('en') }}</b
      ><span class="soft">hits, 28 days</span></span
    >
    <span v-if="mayChange" class="tools">
      <VBtn
        size="small"
        variant="text"
        :icon="mdiChevronUp"
        :disabled="index === 0"
        :aria-label="`Move ${rule.pattern} up`"
        @click="$emit('move', -1)"
      />
      <VBtn
        size="small"
        variant="text"
        :icon="mdiChevronDown"
        :disabled="index === count - 1"
        :aria-label="`Move ${rule.pattern} down`"
        @click="$emit('move', 1)"
      />
      <VSwitch
        :model-value="rule.active"
        density="compact"
        color="primary"
        hide-details
        :aria-label="`${rule.pattern} is switched on`"
        @update:model-value="$emit('switch')"
      />
    </span>
  </li>
</template>

<style scoped>
.rule {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 4px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-bottom-width: 0;
  background: rgb(var(--v-theme-surface));
}
.rule:first-child {
  border-radius: 4px 4px 0 0;
}
.rule:last-child {
  border-bottom-width: 1px;
  border-radius: 0 0 4px 4px;
}
.answering {
  background: rgb(var(--v-theme-tint-primary));
}
.handle {
  flex: none;
  color: rgb(var(--v-theme-soft));
  cursor: grab;
}
.number {
  flex: 0 0 22px;
  text-align: right;
}
.what {
  flex: 1 1 0;
  min-width: 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: baseline;
}
.pattern {
  padding: 0;
  font-weight: 700;
  text-align: left;
  overflow-wrap: anywhere;
  color: rgb(var(--v-theme-primary));
}
.off .pattern {
  color: rgb(var(--v-theme-soft));
}
.to,
.note {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.tag {
  padding: 0 6px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 3px;
  font-size: 12px;
}
.hits {
  display: flex;
  flex: 0 0 88px;
  flex-direction: column;
  align-items: flex-end;
  font-variant-numeric: tabular-nums;
}
.hits > .soft {
  font-size: 12px;
}
.tools {
  display: flex;
  align-items: center;
}
@media (max-width: 700px) {
  .rule {
    flex-wrap: wrap;
  }
  .what {
    flex-basis: calc(100% - 80px);
  }
}
</style>
