<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { visitsADay } from '~/composables/visits-a-day'
import { durationWords } from '~~/core/time/typed-duration'
import { isPermanent, type RedirectStatus } from '~~/core/rows/redirect-status'
import type { Link, LinkHolders } from '~~/core/schemas'

/** What a change of a link's destination or redirect means for visitors, before it is saved. */
const { link, destination, status } = defineProps<{ link: Link; destination: string; status: RedirectStatus }>()
const emit = defineEmits<{ planned: [] }>()
const store = useLinkStore()
const { short } = useMoments()

const holders = ref<LinkHolders>()
/** Other links that lead to the same destination: how many, and a few of them. */
const twins = ref<{ count: number; some: Link[] }>({ count: 0, some: [] })
watch(
  () => [link.id, link.version],
  async () => {
    holders.value = isPermanent(link.status) ? await store.holders(link.id).catch(() => undefined) : undefined
    twins.value = await store.othersLeadingTo(link).catch(() => ({ count: 0, some: [] }))
  },
  { immediate: true },
)

const number = (count: number) => count.toLocaleString('en')
const daily = computed(() => link.daily?.slice(-29, -1) ?? [])
const aDay = computed(() => daily.value.reduce((sum, day) => sum + day, 0) / Math.max(1, daily.value.length))
const yesterday = computed(() => link.daily?.at(-2) ?? 0)
const printed = computed(() => (link.placements ?? []).filter(({ copies }) => copies))
const copies = computed(() => printed.value.reduce((sum, { copies: count }) => sum + count!, 0))
const fixed = computed(() => printed.value.filter(({ changeable }) => !changeable).length)
const others = computed(() => (link.aliases?.length ?? 0) + twins.value.count)
const named = computed(() =>
  [...(link.aliases ?? []).map(({ slug }) => slug), ...twins.value.some.map(({ address }) => address)].slice(0, 3),
)
const domains = useDomainsStore()
const kept = computed(() => durationWords(domains.byHost(link.domain)?.permanenceSeconds ?? 86_400))
const title = computed(() => {
  if (link.waiting) return `Takes effect once ${link.domain} is open.`
  if (link.standing !== 'live') return `Takes effect once the link is live; it is ${link.standing} now.`
  if (copies.value > 0) return `Takes effect immediately for ${number(copies.value)} printed copies.`
  return 'Takes effect immediately.'
})
const cached = computed(() => {
  if (!isPermanent(link.status)) return { count: '0', words: 'browsers cache the old redirect (it is temporary)' }
  const found = holders.value?.ifChanged
  if (!found) return undefined
  if (found.holders === 0) return { count: '0', words: 'browsers are known to cache the old redirect' }
  const until = found.until ? ` until ${short(found.until)}` : ''
  return {
    count: `about ${number(found.holders)}`,
    words: `${found.holders === 1 ? 'browser goes' : 'browsers go'} on to the old destination${until}`,
  }
})
</script>

<template>
  <section class="warning-notice consequences" aria-label="Consequences">
    <p class="title">
      <b>{{ title }}</b>
    </p>
    <ul>
      <li>
        <b>{{ visitsADay(aDay) }}</b> {{ visitsADay(aDay) === '1' ? 'visit' : 'visits' }} a day
      </li>
      <li v-if="cached">
        <b>{{ cached.count }}</b> {{ cached.words }}
      </li>
      <li v-if="isPermanent(status) && !isPermanent(link.status)">
        <b>{{ kept }}</b> that browsers keep the new redirect: they miss changes until then
      </li>
      <li v-if="copies > 0">
        <b>{{ number(copies) }}</b> copies in
        <NuxtLink :to="{ path: `/links/${link.id}`, query: { tab: 'placements' } }"
          >{{ printed.length }} {{ printed.length === 1 ? 'placement' : 'placements' }}</NuxtLink
        >{{ fixed === printed.length ? ', none can be changed' : fixed > 0 ? `, ${fixed} cannot be changed` : '' }}
      </li>
      <li v-else><b>0</b> printed copies recorded</li>
      <li>
        <b>{{ number(others) }}</b> other short {{ others === 1 ? 'address leads' : 'addresses lead' }} to the old
        destination<template v-if="others > 0"
          >: <span class="mono">{{ named.join(', ') }}{{ others > named.length ? ' …' : '' }}</span></template
        >
      </li>
      <li v-if="yesterday > 0">
        <b>{{ number(yesterday) }}</b> {{ yesterday === 1 ? 'visit' : 'visits' }} yesterday would go to the new
        destination
      </li>
    </ul>
    <PermanentNotice
      v-if="holders?.ifChanged && holders.ifChanged.holders > 0 && destination !== link.destination"
      :link="link"
      :destination="destination"
      @planned="emit('planned')"
    />
  </section>
</template>

<style scoped>
.title {
  margin-bottom: 4px;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(260px, 100%), 1fr));
  gap: 4px 24px;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
li {
  overflow-wrap: anywhere;
}
</style>
