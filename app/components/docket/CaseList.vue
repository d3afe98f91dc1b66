<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { followFocus } from '~/composables/follow-focus'
import { LANES } from '~~/core/docket'
import type { Case } from '~~/core/schemas'

const { cases, remarks, selected } = defineProps<{ cases: Case[]; remarks: Case[]; selected: number | undefined }>()
defineEmits<{ select: [found: Case] }>()
const folds = computed(() =>
  Object.entries(LANES)
    .map(([lane, title]) => ({ lane, title, items: remarks.filter((item) => item.lane === lane) }))
    .filter(({ items }) => items.length > 0),
)
const list = ref<HTMLElement>()
watch(
  () => selected,
  async () => {
    await nextTick()
    const row = list.value?.querySelector('[aria-current]')
    row?.closest('details')?.setAttribute('open', '')
    row?.scrollIntoView({ block: 'nearest' })
    followFocus(list.value, row as HTMLElement | null)
  },
)
</script>

<template>
  <div ref="list">
    <p v-if="cases.length > 0" class="order soft"><span>Most urgent first</span><span>visits a day</span></p>
    <CaseRow
      v-for="item in cases"
      :key="item.id"
      :item="item"
      :chosen="item.id === selected"
      @click="$emit('select', item)"
    />
    <details v-for="{ lane, title, items } in folds" :key="lane" class="fold">
      <summary>
        {{ items.length === 1 ? '1 remark' : `${items.length.toLocaleString('en')} remarks` }} in {{ title }}
        <span class="soft">no visits affected</span>
      </summary>
      <CaseRow
        v-for="item in items"
        :key="item.id"
        :item="item"
        :chosen="item.id === selected"
        @click="$emit('select', item)"
      />
    </details>
  </div>
</template>

<style scoped>
.order {
  display: flex;
  justify-content: space-between;
  padding: 4px 14px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-background));
  font-size: 12px;
}
.fold > summary {
  padding: 10px 14px;
  cursor: pointer;
  font-size: 13px;
}
</style>
