<script setup lang="ts">
import { computed } from 'vue'
import type { Intake } from '~~/core/schemas'
import type { IntakeFilter } from '~/stores/exchange'

/** Which lines of a file are shown, with how many there are of each kind. */
const { intake, filter } = defineProps<{ intake: Intake; filter: IntakeFilter }>()
defineEmits<{ choose: [filter: IntakeFilter] }>()
const choices = computed(() => {
  const { counts, follows } = intake
  const all = counts.new + counts.rule + counts.same + counts.clash + counts.refused
  const found: { value: IntakeFilter; words: string; count: number }[] = [
    { value: 'new', words: 'New', count: counts.new },
    { value: 'rule', words: 'Rules', count: counts.rule },
    { value: 'same', words: 'Same', count: counts.same },
    { value: 'clash', words: 'Conflicting', count: counts.clash },
    { value: 'undecided', words: intake.state === 'applied' ? 'Not imported' : 'Undecided', count: counts.undecided },
    { value: 'refused', words: 'Not supported', count: counts.refused },
    { value: 'in-rules', words: 'Combined into a rule', count: counts.inRules },
    { value: 'check-failed', words: 'Check failed', count: counts.checkFailed },
  ]
  return [
    { value: undefined, words: 'All', count: all },
    ...(follows ? [{ value: 'differs' as const, words: 'Differences', count: all - counts.same }] : []),
    ...found.filter(({ count }) => count > 0),
  ]
})
</script>

<template>
  <div class="filters" role="group" aria-label="Show">
    <VBtn
      v-for="one in choices"
      :key="one.words"
      size="small"
      :color="filter === one.value ? 'primary' : undefined"
      :aria-pressed="filter === one.value"
      @click="$emit('choose', one.value)"
      >{{ one.words }} {{ one.count.toLocaleString('en') }}</VBtn
    >
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 10px;
}
</style>
