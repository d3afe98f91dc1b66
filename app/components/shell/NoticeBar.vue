<script setup lang="ts">
import { computed } from 'vue'

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
      <VBtn variant="text" color="on-surface-variant" class="text-decoration-underline" @click="act">{{
        notice.label
      }}</VBtn>
    </template>
  </VSnackbar>
</template>
