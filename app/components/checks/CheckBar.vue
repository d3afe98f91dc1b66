<script setup lang="ts">
import { computed } from 'vue'

const checks = useChecksStore()
const session = useSessionStore()
const { short } = useMoments()
const count = (number: number) => number.toLocaleString('en')
const counted = computed(() => {
  const { counts } = checks.run!
  const parts = [
    counts.sound > 0 && `${count(counts.sound)} sound`,
    counts.doubtful > 0 && `${count(counts.doubtful)} doubtful`,
    counts.broken > 0 && `${count(counts.broken)} broken`,
  ].filter(Boolean)
  return parts.length > 0 ? `: ${parts.join(', ')}` : ''
})
const told = computed(() => {
  const { run } = checks
  if (!run) return ''
  const of = `${count(run.done)} of ${count(run.total)} ${run.total === 1 ? 'destination' : 'destinations'}`
  if (run.state === 'cancelled') return `Stopped after ${of}${counted.value}.`
  if (run.total === 0) return 'Nothing to check: none of these links is live or scheduled.'
  if (run.state === 'done') return `Checked ${of}${counted.value}.`
  if (run.pausedSince)
    return (
      `Paused since ${short(run.pausedSince)}: this machine itself seems cut off, so nobody is called broken. ` +
      `${of} checked.`
    )
  return `Checking: ${of}${counted.value}. Rate limits per host apply.`
})
</script>

<template>
  <div v-if="checks.run || checks.problem" class="bar">
    <span class="told" role="status">{{ checks.problem || told }}</span>
    <VProgressLinear
      v-if="checks.running"
      :model-value="checks.run!.total ? (100 * checks.run!.done) / checks.run!.total : 0"
      color="primary"
      aria-label="Progress of the checks"
    />
    <VBtn
      v-if="checks.running && session.may('editor')"
      size="small"
      variant="text"
      aria-label="Stop the checks"
      @click="checks.cancel()"
      >Stop</VBtn
    >
    <VBtn v-else size="small" variant="text" aria-label="Put the result of the checks away" @click="checks.putAway()"
      >Dismiss</VBtn
    >
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: center;
  padding: 4px 10px;
  border-left: 4px solid rgb(var(--v-theme-info));
  background: rgb(var(--v-theme-tint-info));
  font-size: 13px;
}
.told {
  flex: 1 1 220px;
}
</style>
