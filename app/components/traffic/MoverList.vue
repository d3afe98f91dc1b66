<script setup lang="ts">
import { DateTime } from 'luxon'
import type { Movers } from '~~/core/schemas'

/** The links whose visits changed most, and since when. */
const { movers } = defineProps<{ movers: Movers }>()
const rate = (visits: number) => (visits >= 10 ? Math.round(visits).toLocaleString('en') : visits.toFixed(1))
const day = (text: string) => DateTime.fromISO(text).toFormat('d LLL')
const state = (before: number, after: number) => (after < before ? ('broken' as const) : ('sound' as const))
</script>

<template>
  <p v-if="movers.items.length === 0" class="soft">
    No significant changes in the last 90 days (links with 40 visits or more).
  </p>
  <ul v-else class="ruled-list">
    <li v-for="item in movers.items" :key="item.link" class="mover">
      <StateMark :state="state(item.before, item.after)" />
      <span>
        <NuxtLink :to="`/links/${item.link}`" class="go">{{ item.title || item.address }}</NuxtLink>
        <span class="soft words"
          >since {{ day(item.since) }}, {{ rate(item.after) }} a day; {{ rate(item.before) }} before</span
        >
      </span>
    </li>
  </ul>
</template>

<style scoped>
.mover {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.go {
  display: block;
  font-weight: 600;
  overflow-wrap: anywhere;
  color: inherit;
}
.words {
  font-size: 12px;
}
</style>
