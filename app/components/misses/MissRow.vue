<script setup lang="ts">
import { computed } from 'vue'
import { visible } from '~~/core/misses/letter'
import type { Miss } from '~~/core/schemas'
import { percent, TREND_WORDS } from '~/composables/miss-words'

const { miss, selected } = defineProps<{ miss: Miss; selected: boolean }>()
const chosen = defineModel<boolean>('chosen', { required: true })
defineEmits<{ open: [] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
const first = computed(() => miss.ranking?.candidates[0])
/** Of the same domain its path is enough. */
const near = computed(() => {
  const address = first.value?.address ?? ''
  const slash = address.indexOf('/')
  return first.value?.domainId === miss.domain.id ? address.slice(slash) : address
})
const meaning = computed(() => {
  if (miss.state === 'noise') return miss.noise ?? ''
  if (miss.answeredBy) {
    const { by, address, served } = miss.answeredBy
    return by === 'gone' ? 'told that it is gone' : `${address} · ${served.toLocaleString('en')} served since`
  }
  return miss.gone ? `${miss.gone.standing} link` : ''
})
</script>

<template>
  <tr :class="{ selected }" :aria-current="selected ? 'true' : undefined">
    <td class="pick">
      <input
        v-if="session.may('editor')"
        v-model="chosen"
        type="checkbox"
        :aria-label="`Choose ${visible(miss.address)}`"
      />
    </td>
    <td class="asked">
      <button type="button" class="open" :aria-label="visible(miss.address)" @click="$emit('open')">
        <ShortAddress :address="visible(miss.address)" />
      </button>
    </td>
    <td class="meant">
      <template v-if="!meaning && first && first.probability >= 0.05">
        <span class="likely"
          ><span aria-hidden="true" class="soft">→</span><span class="visually-hidden">possible match </span
          ><ShortAddress class="near" :address="near" /><span class="soft share">{{
            percent(first.probability)
          }}</span></span
        >
      </template>
      <span v-else class="soft">{{ meaning || 'no match' }}</span>
    </td>
    <td class="bars"><DayBars :days="miss.daily" :groups="14" what="visitors" /></td>
    <td class="soft trend">{{ TREND_WORDS[miss.trend] }}</td>
    <td class="number">
      {{ (miss.state === 'noise' ? miss.requests28 : miss.visitors28).toLocaleString('en') }}
    </td>
    <td class="soft last" :title="exact(miss.lastAt)">{{ short(miss.lastAt) }}</td>
  </tr>
</template>

<style scoped>
td {
  height: 38px;
  padding: 2px 8px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  vertical-align: middle;
}
.selected {
  background: rgb(var(--v-theme-count));
}
.pick {
  width: 30px;
}
.pick input {
  width: 16px;
  height: 16px;
  accent-color: rgb(var(--v-theme-primary));
}
.open {
  max-width: 100%;
  padding: 4px 0;
  text-align: left;
}
.open:hover {
  text-decoration: underline;
}
.asked {
  max-width: 240px;
}
.meant {
  max-width: 250px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
.likely {
  display: flex;
  gap: 0 6px;
  align-items: baseline;
}
.near {
  min-width: 0;
}
.share {
  white-space: nowrap;
}
.trend,
.last {
  font-size: 12px;
  white-space: nowrap;
}
.number {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
@media (max-width: 760px) {
  .likely {
    flex-wrap: wrap;
  }
  .near {
    max-width: calc(100% - 20px);
  }
  .bars,
  .trend,
  .last {
    display: none;
  }
}
</style>
