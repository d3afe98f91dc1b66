<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
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
  },
)
</script>

<template>
  <div ref="list">
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
        <span class="soft">harm nobody</span>
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
.fold > summary {
  padding: 10px 14px;
  cursor: pointer;
  font-size: 13px;
}
</style>
