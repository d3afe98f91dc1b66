<script setup lang="ts">
import { watchEffect } from 'vue'
import type { TrafficGroup } from '~~/core/schemas'
import { GROUP_TITLES, valueTitle } from '~/composables/traffic-words'

/** What the figures are narrowed to. */
const { filters } = defineProps<{ filters: { name: TrafficGroup; value: string }[] }>()
const emit = defineEmits<{ widen: [name: TrafficGroup, value: string] }>()
const traffic = useTrafficStore()
watchEffect(() => {
  for (const { name, value } of filters) if (name === 'link' && value !== '0') void traffic.nameLink(value)
})
const title = (name: TrafficGroup, value: string) =>
  valueTitle(name, value, name === 'link' ? traffic.names[value] : value)
</script>

<template>
  <p v-if="filters.length > 0" class="chips">
    <span class="soft">Only</span>
    <VBtn
      v-for="{ name, value } in filters"
      :key="`${name} ${value}`"
      size="small"
      active
      :aria-label="`Remove filter: ${GROUP_TITLES[name].toLowerCase()} ${title(name, value)}`"
      @click="emit('widen', name, value)"
      >{{ GROUP_TITLES[name].toLowerCase() }} {{ title(name, value) }}<span aria-hidden="true">&nbsp;✕</span></VBtn
    >
  </p>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
