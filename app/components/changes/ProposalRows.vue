<script setup lang="ts">
import { computed } from 'vue'
import type { ProposalRow } from '~~/core/schemas'
import { rowWords } from '~/composables/change-words'
import { changedFields } from '~/composables/ledger-words'

/** What a proposal makes of each link, before and after. */
const { rows, next, loading, mayLeaveOut } = defineProps<{
  rows: ProposalRow[]
  next: string | null
  loading: boolean
  mayLeaveOut: boolean
}>()
const emit = defineEmits<{ more: []; leave: [row: ProposalRow, leftOut: boolean] }>()
/** As high as its rows, up to a good part of the window. */
const height = computed(() => `min(62dvh, ${Math.max(2, rows.length) * 76}px)`)
const fieldsOf = (row: ProposalRow) => changedFields({ before: row.before, after: row.after })
const reached = (isIntersecting: boolean) => isIntersecting && emit('more')
</script>

<template>
  <div class="rows" role="table" aria-label="Links" :aria-rowcount="rows.length + (next ? 1 : 0)" :aria-busy="loading">
    <div class="row top" role="row">
      <span role="columnheader">Short address</span>
      <span role="columnheader">Before and after</span>
      <span role="columnheader">Check</span>
      <span role="columnheader" class="figure">Visits</span>
    </div>
    <VVirtualScroll :items="rows" class="scroll" item-key="position" :style="{ height }">
      <template #default="{ item: row }">
        <div class="row" role="row" :class="{ out: row.leftOut, faded: row.kind === 'unchanged' }">
          <span role="cell" class="address">
            <input
              v-if="mayLeaveOut && row.kind === 'change'"
              type="checkbox"
              :checked="!row.leftOut"
              :aria-label="`Change ${row.address}`"
              @change="emit('leave', row, !row.leftOut)"
            />
            <NuxtLink :to="`/links/${row.link}`" class="go"><ShortAddress :address="row.address" /></NuxtLink>
          </span>
          <span role="cell" class="fields">
            <span v-for="field in fieldsOf(row)" :key="field.name" class="field">
              <span v-if="field.name !== 'Destination'" class="soft">{{ field.name }} </span>
              <del v-if="field.before" class="mono">{{ field.before }}</del>
              <span aria-hidden="true" class="soft"> → </span>
              <ins class="mono">{{ field.after || 'none' }}</ins>
            </span>
          </span>
          <span role="cell" class="found"
            ><StateMark v-if="rowWords(row).words" :state="rowWords(row).state" /> {{ rowWords(row).words }}</span
          >
          <span role="cell" class="figure">{{ row.visits28.toLocaleString('en') }}</span>
        </div>
      </template>
    </VVirtualScroll>
    <div v-if="next" v-intersect="reached" class="more">
      <VBtn variant="text" :loading="loading" @click="emit('more')">Show more</VBtn>
    </div>
  </div>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.scroll {
  flex: 1 1 auto;
}
.row {
  display: grid;
  grid-template-columns: minmax(150px, 26%) 1fr minmax(110px, 20%) 64px;
  gap: 4px 12px;
  align-items: start;
  padding: 8px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
}
.top {
  padding: 6px 12px;
  font-size: 12px;
  font-weight: 600;
  color: rgb(var(--v-theme-soft));
}
.address {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
  overflow-wrap: anywhere;
}
.go {
  flex: 1 1 auto;
  min-width: 0;
  min-height: 24px;
  color: inherit;
}
.address input {
  flex: none;
  width: 16px;
  height: 16px;
  accent-color: rgb(var(--v-theme-primary));
}
.fields,
.field,
.found {
  display: block;
  min-width: 0;
  overflow-wrap: anywhere;
}
del {
  color: rgb(var(--v-theme-soft));
}
ins {
  text-decoration: none;
}
.out,
.faded {
  color: rgb(var(--v-theme-soft));
}
.out ins {
  text-decoration: line-through;
}
.figure {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.more {
  padding: 6px 12px;
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .fields,
  .found {
    grid-column: 1 / -1;
  }
  .top > :nth-child(2),
  .top > :nth-child(3) {
    display: none;
  }
}
</style>
