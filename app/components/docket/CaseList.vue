<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { LANE_NAMES, visitsADay } from '~/composables/lanes'
import type { Case, CaseList } from '~~/core/schemas'

const {
  items,
  selected,
  totals = [],
} = defineProps<{ items: Case[]; selected: number | undefined; totals?: CaseList['lanes'] }>()
defineEmits<{ select: [found: Case] }>()
const lanes = computed(() =>
  LANE_NAMES.map(([lane, name]) => ({ lane, name, cases: items.filter((item) => item.lane === lane) })).filter(
    ({ cases }) => cases.length > 0,
  ),
)
const list = ref<HTMLElement>()
watch(
  () => selected,
  async () => {
    await nextTick()
    list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' })
  },
)
</script>

<template>
  <div ref="list">
    <section v-for="{ lane, name, cases } in lanes" :key="lane" :aria-label="name">
      <h3 class="lane">
        {{ name }} ·
        {{ Math.max(cases.length, totals.find((total) => total.lane === lane)?.cases ?? 0).toLocaleString('en') }}
      </h3>
      <button
        v-for="item in cases"
        :key="item.id"
        type="button"
        class="case"
        :class="{ chosen: item.id === selected }"
        :aria-current="item.id === selected || undefined"
        @click="$emit('select', item)"
      >
        <StateMark :state="item.severity" />
        <span class="what">
          <span class="mono subject">{{
            item.lane === 'conflicts' ? item.subject : (item.domain?.host ?? item.subject)
          }}</span>
          <span class="soft headline">{{ item.headline }}</span>
        </span>
        <span class="impact"
          ><b>{{ visitsADay(item.impact) }}</b
          ><span class="soft">visits/day</span></span
        >
      </button>
    </section>
  </div>
</template>

<style scoped>
.lane {
  padding: 12px 14px 4px;
}
.case {
  display: flex;
  gap: 10px;
  width: 100%;
  padding: 9px 14px 9px 11px;
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
