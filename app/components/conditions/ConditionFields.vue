<script setup lang="ts">
import { computed } from 'vue'
import type { ConditionPart } from '~~/core/conditions'
import { CONDITION_PARTS } from './parts'

const condition = defineModel<readonly ConditionPart[]>({ required: true })
defineProps<{ fault?: string }>()
const missing = computed(() =>
  CONDITION_PARTS.filter(({ kind }) => !condition.value.some((part) => part.kind === kind)),
)
const formOf = (part: ConditionPart) => CONDITION_PARTS.find(({ kind }) => kind === part.kind)!
const change = (part: ConditionPart) =>
  (condition.value = condition.value.map((other) => (other.kind === part.kind ? part : other)))
const add = (blank: ConditionPart) => (condition.value = [...condition.value, blank])
const drop = (part: ConditionPart) => (condition.value = condition.value.filter((other) => other.kind !== part.kind))
</script>

<template>
  <fieldset class="condition">
    <legend class="soft">Only if</legend>
    <p v-if="condition.length === 0" class="soft">No conditions: applies to every visitor.</p>
    <div v-for="part in condition" :key="part.kind" class="part">
      <component :is="formOf(part).form" :model-value="part" class="form" @update:model-value="change" />
      <VBtn
        variant="text"
        size="small"
        :aria-label="`Drop the condition ${formOf(part).title.toLowerCase()}`"
        @click="drop(part)"
        >Drop</VBtn
      >
    </div>
    <div class="d-flex flex-wrap ga-2">
      <VBtn v-for="{ kind, title, blank } in missing" :key="kind" size="small" @click="add(blank)">{{ title }}</VBtn>
    </div>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
  </fieldset>
</template>

<style scoped>
.condition {
  display: flex;
  flex-direction: column;
  gap: 8px;
  border: 0;
}
/* Room for the label that floats over the first field's edge. */
legend {
  margin-bottom: 8px;
}
.part {
  display: flex;
  gap: 8px;
  align-items: flex-start;
}
.form {
  flex: 1 1 0;
  min-width: 0;
}
</style>
