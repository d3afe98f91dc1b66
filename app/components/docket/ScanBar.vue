<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'

const docket = useDocketStore()
const session = useSessionStore()
const { short } = useMoments()
const PHASES: Record<string, string> = {
  links: 'reading links',
  'look-alikes': 'comparing look-alikes',
  slips: 'comparing typing errors',
  twins: 'finding shared destinations',
  rules: 'proving rules',
  families: 'looking through families',
  ways: 'following redirects',
}
const running = computed(() => docket.scan?.state === 'queued' || docket.scan?.state === 'running')
const ready = () => docket.readScan().catch(() => undefined)
void ready()
useIntervalFn(() => running.value && ready(), 400)
const count = (number: number) => number.toLocaleString('en')
const told = computed(() => {
  const { scan } = docket
  if (!scan) return 'Conflicts are updated after every change. A full scan checks the whole register again.'
  if (scan.state === 'queued') return 'Scan queued.'
  if (scan.state === 'running')
    return (
      `Scanning: ${PHASES[scan.phase] ?? 'reading the register'}` +
      (scan.total ? `, ${count(scan.done)} of ${count(scan.total)}` : '')
    )
  const when = scan.endedAt ? short(scan.endedAt) : ''
  if (scan.state === 'cancelled') return `Scan cancelled, ${when}.`
  if (scan.state === 'failed') return `The scan failed, ${when}: ${scan.error}`
  const found = Object.values(scan.found).reduce((sum, number) => sum + number, 0)
  const conflicts = found === 0 ? 'no conflict' : found === 1 ? '1 conflict' : `${count(found)} conflicts`
  return `Scanned ${count(scan.total)} addresses, ${when}: ${conflicts}.`
})
const start = () => docket.startScan().catch((error: Error) => useNotice().tell(error.message))
</script>

<template>
  <div class="bar">
    <span class="soft told" role="status">{{ told }}</span>
    <VProgressLinear
      v-if="running"
      :model-value="docket.scan!.total ? (100 * docket.scan!.done) / docket.scan!.total : 0"
      :indeterminate="!docket.scan!.total"
      color="primary"
      aria-label="Progress of the scan"
    />
    <template v-if="session.may('editor')">
      <VBtn v-if="running" size="small" variant="text" @click="docket.cancelScan()">Stop</VBtn>
      <VBtn v-else size="small" variant="text" color="primary" @click="start">Scan for conflicts</VBtn>
    </template>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: center;
  padding: 2px 0;
  font-size: 12px;
}
.told {
  flex: 1 1 180px;
}
</style>
