<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { LedgerEntry, Link } from '~~/core/schemas'
import { VERDICTS } from '~~/core/targets/verdicts'

const { link, history } = defineProps<{ link: Link; history: LedgerEntry[] }>()
const checks = useChecksStore()
const session = useSessionStore()
const links = useLinkStore()
const { short, exact } = useMoments()
const problem = ref('')
const FEW = 5
const all = ref(false)
const read = () =>
  checks.read(link.id).then(
    () => (problem.value = ''),
    (error: Error) => (problem.value = error.message),
  )
watch(() => [link.id, link.version, link.target?.checkedAt], read, { immediate: true })
const found = computed(() => (checks.of === link.id ? checks.checks : undefined))
const shown = computed(() => (all.value ? found.value?.items : found.value?.items.slice(0, FEW)) ?? [])
const now = () =>
  checks.start({ links: [link.id] }, () => {
    void read()
    void links.read(link.id)
  })
const frames = computed(() => {
  const rule = found.value?.frames
  if (!rule) return ''
  return rule.allowed ? 'May be shown in a frame.' : `May not be shown in a frame: ${rule.field}.`
})
</script>

<template>
  <section class="mt-5" aria-labelledby="checks-title">
    <h3 id="checks-title" class="mb-1">Destination</h3>
    <p v-if="link.target" class="mb-1">
      <StateMark :state="link.target.confidence" /> {{ link.target.sentence }}
      <span class="soft" :title="exact(link.target.checkedAt)"
        >Checked {{ short(link.target.checkedAt) }}; unchanged since {{ short(link.target.since) }}.</span
      >
    </p>
    <p v-else-if="!/^https?:/i.test(link.destination)" class="soft mb-1">Opens an app; cannot be checked.</p>
    <p v-else class="soft mb-1">It has not been checked yet.</p>
    <CheckStrip
      v-if="link.daily?.length"
      :days="link.daily"
      :checks="found?.items ?? []"
      :history="history"
      :placements="link.placements ?? []"
    />
    <CheckBar class="my-2" />
    <p v-if="problem" class="text-broken">{{ problem }} <VBtn variant="text" @click="read">Try again</VBtn></p>
    <div class="d-flex flex-wrap ga-2 my-2 align-center">
      <VBtn v-if="session.may('editor') && link.forwardsTo === null" :disabled="checks.running" @click="now"
        >Check now</VBtn
      >
      <span v-if="found?.nextAt" class="soft next">Next {{ short(found.nextAt) }}. {{ frames }}</span>
    </div>
    <ul v-if="shown.length > 0" class="ruled-list">
      <li v-for="check in shown" :key="check.id">
        <details>
          <summary>
            <StateMark :state="check.failed ? 'broken' : 'sound'" />
            <span :title="exact(check.at)" class="when">{{ short(check.at) }}</span>
            <span class="soft">
              {{ VERDICTS[check.verdict].words }}, {{ check.milliseconds.toLocaleString('en') }} ms</span
            >
          </summary>
          <p class="my-1">{{ check.sentence || 'Same as the previous check; details deleted.' }}</p>
          <HopLadder :hops="check.hops" />
        </details>
      </li>
    </ul>
    <VBtn v-if="!all && (found?.items.length ?? 0) > FEW" variant="text" class="px-1" @click="all = true"
      >All {{ found!.items.length }} checks</VBtn
    >
  </section>
</template>

<style scoped>
summary {
  padding: 4px 0;
  cursor: pointer;
  font-size: 13px;
}
.when {
  margin-right: 8px;
}
.next {
  font-size: 13px;
}
</style>
