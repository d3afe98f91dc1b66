<script setup lang="ts">
import { computed } from 'vue'
import type { IntakeDecision, IntakeRow } from '~~/core/schemas'
import { decisionWords, foundOf } from '~/composables/exchange-words'

/** What each line of a file comes to, and what is decided of it. */
const { rows, next, loading, mayDecide, taken } = defineProps<{
  rows: IntakeRow[]
  next: string | null
  loading: boolean
  mayDecide: boolean
  /** Numbers of the rules that stand in for links of one shape. */
  taken: number[]
}>()
const emit = defineEmits<{ more: []; decide: [row: IntakeRow, decision: IntakeDecision | null] }>()
/** As high as its rows, up to a good part of the window. */
const height = computed(() => `min(58dvh, ${Math.max(2, rows.length) * 62}px)`)
const inRule = (row: IntakeRow) => row.family !== null && taken.includes(row.family)
const items = (row: IntakeRow) => [
  ...(row.decision === null ? [{ value: null, title: 'Decide…' }] : []),
  ...row.choices.map((value) => ({ value, title: decisionWords(row, value) })),
]
const reached = (isIntersecting: boolean) => isIntersecting && emit('more')
</script>

<template>
  <div class="rows" role="table" aria-label="Lines" :aria-rowcount="rows.length + (next ? 1 : 0)" :aria-busy="loading">
    <div class="row top" role="row">
      <span role="columnheader" class="figure">Line</span>
      <span role="columnheader">Address</span>
      <span role="columnheader">Leads to</span>
      <span role="columnheader">What is found</span>
      <span role="columnheader">Decision</span>
    </div>
    <VVirtualScroll :items="rows" class="scroll" item-key="position" :style="{ height }">
      <template #default="{ item: row }">
        <div
          class="row"
          role="row"
          :class="{ faded: row.kind === 'same' || row.decision === 'leave' || inRule(row), open: row.kind === 'clash' }"
        >
          <span role="cell" class="figure soft" :title="row.file">{{ row.line || '–' }}</span>
          <span role="cell" class="address">
            <StateMark :state="foundOf(row).state" />
            <NuxtLink v-if="row.link" :to="`/links/${row.link}`" class="mono">{{ row.address }}</NuxtLink>
            <span v-else-if="row.address" class="mono">{{ row.address }}</span>
            <span v-else class="soft">–</span>
          </span>
          <span role="cell" class="to">
            <RedirectChip v-if="row.status && row.destination" :status="row.status" />
            <span class="mono soft">{{ row.destination ?? (row.kind === 'refused' ? row.source : 'gone (410)') }}</span>
          </span>
          <span role="cell" class="found">
            {{ foundOf(row).words }}
            <span v-if="row.would" class="soft">{{ row.would }}</span>
          </span>
          <span role="cell" class="decision">
            <span v-if="inRule(row)" class="soft">In the rule</span>
            <select
              v-else-if="row.choices.length > 0"
              :value="row.decision ?? ''"
              :disabled="!mayDecide"
              :aria-label="`Decision for line ${row.line}, ${row.address}`"
              @change="
                emit('decide', row, (($event.target as HTMLSelectElement).value || null) as IntakeDecision | null)
              "
            >
              <option v-for="item in items(row)" :key="String(item.value)" :value="item.value ?? ''">
                {{ item.title }}
              </option>
            </select>
          </span>
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
.row {
  display: grid;
  grid-template-columns: 44px minmax(140px, 24%) minmax(150px, 1fr) minmax(150px, 28%) 132px;
  gap: 4px 12px;
  align-items: start;
  padding: 8px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
}
.row > * {
  min-width: 0;
  overflow-wrap: anywhere;
}
.top {
  padding: 6px 12px;
  font-size: 12px;
  font-weight: 600;
  color: rgb(var(--v-theme-soft));
}
.open {
  background: rgb(var(--v-theme-primary), 0.05);
}
.faded {
  color: rgb(var(--v-theme-soft));
}
.to {
  display: flex;
  gap: 6px;
  align-items: baseline;
}
.figure {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
select {
  width: 100%;
  min-height: 30px;
  padding: 2px 4px;
  border: 0;
  border-bottom: 1px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-background));
  color: inherit;
  font: inherit;
}
.more {
  padding: 6px 12px;
}
@media (max-width: 800px) {
  .row {
    grid-template-columns: 44px 1fr;
  }
  .to,
  .found,
  .decision {
    grid-column: 2;
  }
  .top > :nth-child(n + 3) {
    display: none;
  }
}
</style>
