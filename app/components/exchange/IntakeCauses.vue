<script setup lang="ts">
import { causeWords, causeDecisionWords } from '~/composables/exchange-words'
import type { IntakeCause, IntakeDecision } from '~~/core/schemas'

/** One decision for all lines that conflict for one reason. */
const { causes, mayDecide } = defineProps<{ causes: IntakeCause[]; mayDecide: boolean }>()
defineEmits<{ decide: [cause: IntakeCause, decision: IntakeDecision | null] }>()
</script>

<template>
  <section v-if="causes.length > 0" class="causes" aria-labelledby="causes-title">
    <h2 id="causes-title">Decide by cause</h2>
    <ul>
      <li v-for="cause in causes" :key="`${cause.code} ${cause.cause}`">
        <span class="words">
          {{ causeWords(cause)
          }}<template v-if="cause.cause"
            >&nbsp;<span class="mono">{{ cause.cause }}</span></template
          ><span v-if="cause.undecided > 0 && cause.undecided < cause.rows" class="soft"
            >; {{ cause.undecided.toLocaleString('en') }} undecided</span
          >
        </span>
        <select
          :value="cause.decision ?? ''"
          :disabled="!mayDecide"
          :aria-label="`Decision for ${causeWords(cause)} ${cause.cause}`.trim()"
          @change="
            $emit('decide', cause, (($event.target as HTMLSelectElement).value || null) as IntakeDecision | null)
          "
        >
          <option v-if="cause.decision === null" value="">
            {{ cause.undecided === cause.rows ? 'Decide…' : 'Several decisions' }}
          </option>
          <option v-for="choice in cause.choices" :key="choice" :value="choice">
            {{ causeDecisionWords(cause, choice) }}
          </option>
        </select>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.causes {
  margin-bottom: 14px;
  padding: 10px 14px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-left: 4px solid rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-surface));
}
h2 {
  margin-bottom: 4px;
  font-size: 14px;
}
ul {
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  justify-content: space-between;
  padding: 4px 0;
}
.words {
  flex: 1 1 260px;
  min-width: 0;
  overflow-wrap: anywhere;
}
select {
  flex: 0 0 190px;
  min-height: 32px;
  padding: 2px 4px;
  border: 0;
  border-bottom: 1px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-background));
  color: inherit;
  font: inherit;
}
@media (max-width: 700px) {
  select {
    flex: 1 1 100%;
    min-height: 44px;
  }
}
</style>
