<script setup lang="ts">
import type { Link } from '~~/core/schemas'
import { stateOf } from '~/composables/link-words'

/** The register on a phone: two lines a link, the whole row opens its page. */
const { links, next, loading } = defineProps<{ links: Link[]; next: string | null; loading: boolean }>()
const emit = defineEmits<{ more: [] }>()
const reached = (isIntersecting: boolean) => isIntersecting && emit('more')
</script>

<template>
  <ul class="list" :aria-busy="loading">
    <li v-for="link in links" :key="link.id">
      <NuxtLink :id="`link-row-${link.id}`" :to="`/links/${link.id}`" class="row">
        <span class="mark"
          ><StateMark :state="stateOf(link) === 'live' ? (link.target?.confidence ?? 'idle') : stateOf(link)"
        /></span>
        <span class="address"><ShortAddress :address="link.address" /></span>
        <b class="figure"
          >{{ link.visits28.toLocaleString('en') }}<span class="visually-hidden"> visits in 28 days</span></b
        >
        <span class="leads"
          ><RedirectChip :status="link.status" /><LongAddress :address="link.destination" class="destination"
        /></span>
      </NuxtLink>
    </li>
    <li v-if="next" v-intersect="reached" class="end soft">
      <template v-if="loading">Reading more…</template>
      <VBtn v-else block @click="emit('more')">Show more</VBtn>
    </li>
  </ul>
</template>

<style scoped>
.list {
  padding: 0;
  list-style: none;
}
.row {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr) auto;
  gap: 2px 4px;
  align-items: baseline;
  min-height: 56px;
  padding: 8px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  color: inherit;
  text-decoration: none;
}
.address {
  font-size: 16px;
}
.figure {
  font-variant-numeric: tabular-nums;
}
.leads {
  display: flex;
  grid-column: 2 / 4;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
  font-size: 13px;
}
.destination {
  flex: 1 1 auto;
}
.end {
  padding: 12px;
}
</style>
