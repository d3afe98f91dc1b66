<script setup lang="ts">
import { computed } from 'vue'
import { visitsADay } from '~/composables/visits-a-day'
import type { RoundFix, RoundGroup } from '~~/core/schemas'

/** The fixes of one cause, each to be left out; `left` has the cases of those that are. */
const { group, left } = defineProps<{ group: RoundGroup; left: ReadonlySet<number> }>()
const emit = defineEmits<{ turn: [fixes: readonly RoundFix[], on: boolean] }>()
const isOn = computed(() => group.fixes.every((fix) => !left.has(fix.case)))
const isPartly = computed(() => !isOn.value && group.fixes.some((fix) => !left.has(fix.case)))
</script>

<template>
  <section :aria-label="group.title">
    <label class="group">
      <input type="checkbox" :checked="isOn" :indeterminate="isPartly" @change="emit('turn', group.fixes, !isOn)" />
      <span class="what"
        ><b>{{ group.fixes.length.toLocaleString('en') }} · {{ group.title }}</b>
        <span class="soft">{{ group.why }}</span></span
      >
      <b class="visits">{{ visitsADay(group.visits) }}</b>
    </label>
    <label v-for="fix in group.fixes" :key="fix.case" class="fix" :class="{ off: left.has(fix.case) }">
      <input
        type="checkbox"
        :checked="!left.has(fix.case)"
        :aria-label="`Apply to ${fix.address}`"
        @change="emit('turn', [fix], left.has(fix.case))"
      />
      <span class="what mono"
        ><b>{{ fix.address }}</b>
        <span class="change soft"
          ><template v-if="fix.before">{{ fix.before }}&nbsp;</template>→&nbsp;{{ fix.after }}</span
        ></span
      >
      <span class="visits">{{ visitsADay(fix.visits) }}</span>
    </label>
  </section>
</template>

<style scoped>
.group,
.fix {
  display: flex;
  gap: 12px;
  align-items: baseline;
  min-height: 36px;
  padding: 7px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  cursor: pointer;
}
.fix {
  padding-left: 40px;
  background: rgb(var(--v-theme-surface));
}
.group input,
.fix input {
  flex: none;
  width: 16px;
  height: 16px;
  accent-color: rgb(var(--v-theme-primary));
}
.off {
  color: rgb(var(--v-theme-soft));
}
.what {
  flex: 1 1 auto;
  min-width: 0;
  overflow-wrap: anywhere;
}
.what > .soft {
  margin-left: 6px;
  font-size: 13px;
}
.visits {
  font-variant-numeric: tabular-nums;
}
@media (max-width: 699px) {
  .fix {
    padding-left: 20px;
  }
  .group,
  .fix {
    min-height: 44px;
  }
}
</style>
