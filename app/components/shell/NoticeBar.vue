<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { isTyping } from '~/composables/useShortcuts'

const { notice } = useNotice()
const shown = computed({
  get: () => notice.value !== undefined,
  set: (open) => {
    if (!open) notice.value = undefined
  },
})
function act() {
  const action = notice.value?.action
  notice.value = undefined
  void action?.()
}
// The key of the button, unless the page has a use for it itself: it hears the same press.
useEventListener('keydown', (event: KeyboardEvent) => {
  if (event.key === 'u' && notice.value?.action && !isTyping(event)) setTimeout(() => event.defaultPrevented || act())
})
</script>

<template>
  <VSnackbar
    :key="notice?.key"
    v-model="shown"
    :timeout="notice?.action ? 12000 : 6000"
    color="surface-variant"
    location="bottom start"
  >
    {{ notice?.text }}
    <template v-if="notice?.action" #actions>
      <VBtn
        variant="text"
        color="on-surface-variant"
        class="text-decoration-underline"
        :aria-label="notice.label"
        aria-keyshortcuts="u"
        @click="act"
        >{{ notice.label }} <kbd class="mono key">u</kbd></VBtn
      >
    </template>
  </VSnackbar>
</template>

<style scoped>
.key {
  margin-left: 6px;
  opacity: 0.8;
}
</style>
