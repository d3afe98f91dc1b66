<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { Link, LinkHolders } from '~~/core/schemas'

/** Who may still go to where a permanent link led before; nothing where nobody can. */
const { link } = defineProps<{ link: Link }>()
const { short, exact } = useMoments()
const holders = ref<LinkHolders>()
onMounted(async () => {
  // Without it nothing is said.
  holders.value = await useLinkStore()
    .holders(link.id)
    .catch(() => undefined)
})
</script>

<template>
  <section v-if="holders?.changed && holders.changed.until" class="mt-4" aria-label="Browsers with the old redirect">
    <h3>Browsers with the old redirect</h3>
    <p>
      <StateMark state="doubtful" /> Changed
      <span :title="exact(holders.changed.at)">{{ short(holders.changed.at) }}</span>; the browsers of about
      <b>{{ holders.changed.holders.toLocaleString('en') }}</b>
      {{ holders.changed.holders === 1 ? 'person' : 'people' }} may still go to
      <LongAddress :address="holders.changed.was" wrap />, the last until {{ short(holders.changed.until) }}.
    </p>
    <LazyHoldersChart v-if="holders.changed.holders > 0" :curve="holders.changed.curve" />
  </section>
  <section v-if="holders?.elsewhere" class="mt-4" aria-label="Browsers with an earlier server’s redirect">
    <h3>Browsers with an earlier server’s redirect</h3>
    <p>
      <StateMark state="idle" /> It came with <span class="mono">{{ holders.elsewhere.file }}</span>,
      <span :title="exact(holders.elsewhere.at)">{{ short(holders.elsewhere.at) }}</span>, where it redirected
      permanently. Browsers may still cache that redirect; how many, and for how long, is unknown.
    </p>
  </section>
</template>
