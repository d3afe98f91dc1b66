<script setup lang="ts">
import { computed } from 'vue'

const { state } = defineProps<{ state: string }>()
const MARKS: Record<string, [mark: string, colour: string]> = {
  sound: ['●', 'text-sound'],
  live: ['●', 'text-sound'],
  doubtful: ['◆', 'text-doubtful'],
  scheduled: ['◆', 'text-doubtful'],
  broken: ['▲', 'text-broken'],
  idle: ['○', 'soft'],
  paused: ['○', 'soft'],
  waiting: ['○', 'soft'],
  ended: ['✕', 'soft'],
  retired: ['✕', 'soft'],
}
const mark = computed(() => MARKS[state] ?? MARKS.idle!)
</script>

<template>
  <span :class="mark[1]" class="mark" role="img" :aria-label="state" :title="state">{{ mark[0] }}</span>
</template>

<style scoped>
.mark {
  display: inline-block;
  width: 14px;
  font-size: 11px;
  text-align: center;
}
</style>
