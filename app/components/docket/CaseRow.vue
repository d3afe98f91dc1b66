<script setup lang="ts">
import { computed } from 'vue'
import { LANES } from '~~/core/docket'
import type { Case } from '~~/core/schemas'
import { visitsADay } from '~/composables/visits-a-day'

const { item, chosen } = defineProps<{ item: Case; chosen: boolean }>()
const headline = computed(() =>
  item.together === 1
    ? item.headline
    : `${item.headline} and ${(item.together - 1).toLocaleString('en')} more of the same cause`,
)
</script>

<template>
  <button type="button" class="case" :class="{ chosen }" :aria-current="chosen || undefined">
    <StateMark :state="item.severity" />
    <span class="what">
      <span class="mono subject">{{ item.name }}</span>
      <span class="soft headline" :title="LANES[item.lane]">{{ headline }}</span>
    </span>
    <span class="impact" :title="item.reckoning"
      ><b>{{ visitsADay(item.impact) }}</b
      ><span class="visually-hidden"> visits a day</span></span
    >
  </button>
</template>

<style scoped>
.case {
  display: flex;
  gap: 10px;
  width: 100%;
  min-height: 50px;
  padding: 6px 14px 6px 11px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  border-left: 3px solid transparent;
  text-align: left;
}
.case:hover {
  background: rgb(var(--v-theme-background));
}
.chosen,
.chosen:hover {
  border-left-color: rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-tint-primary));
}
.what {
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  min-width: 0;
}
.subject {
  font-weight: 700;
  overflow-wrap: anywhere;
}
.impact {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
}
.impact > .soft {
  font-size: 12px;
}
</style>
