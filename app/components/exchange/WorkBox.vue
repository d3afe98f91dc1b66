<script setup lang="ts">
import { computed } from 'vue'
import type { Intake } from '~~/core/schemas'

/** How far a file is that is being read or imported, and a way to cancel it. */
const { intake } = defineProps<{ intake: Intake }>()
defineEmits<{ stop: [] }>()
const what = computed(() =>
  intake.state === 'applying' ? 'importing' : intake.step || 'waiting to be read: other files come first',
)
const number = (count: number) => count.toLocaleString('en')
</script>

<template>
  <div role="status" class="working">
    {{ what }}<template v-if="intake.total > 0">: {{ number(intake.done) }} of {{ number(intake.total) }}</template>
    <VProgressLinear
      :model-value="(100 * intake.done) / Math.max(1, intake.total)"
      :indeterminate="intake.total === 0"
      color="primary"
      aria-label="Lines looked at"
    />
    <VBtn variant="text" class="mt-1" @click="$emit('stop')">Cancel</VBtn>
  </div>
</template>

<style scoped>
.working {
  max-width: 480px;
}
</style>
