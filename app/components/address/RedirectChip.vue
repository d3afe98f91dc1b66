<script setup lang="ts">
import { isPermanent } from '~~/core/rows/redirect-status'

const { status, words = false } = defineProps<{ status: number; words?: boolean }>()
</script>

<template>
  <span
    class="chip mono"
    :class="
      isPermanent(status) ? 'permanent' : status >= 300 && status < 400 ? 'temporary' : status < 300 ? 'page' : 'fault'
    "
  >
    {{ status }}<template v-if="words">&nbsp;{{ isPermanent(status) ? 'permanent' : 'temporary' }}</template>
    <span v-else class="visually-hidden">{{
      isPermanent(status) ? 'permanent' : status < 400 && status >= 300 ? 'temporary' : ''
    }}</span>
  </span>
</template>

<style scoped>
.chip {
  display: inline-block;
  flex: none;
  white-space: nowrap;
  padding: 0 5px;
  border-radius: 2px;
  font-size: 12px;
  font-weight: 600;
  line-height: 18px;
}
.temporary {
  background: rgb(var(--v-theme-tint-info));
  color: rgb(var(--v-theme-info));
}
.permanent {
  background: rgb(var(--v-theme-heavy));
  color: rgb(var(--v-theme-on-heavy));
}
.page {
  background: rgb(var(--v-theme-tint-success));
  color: rgb(var(--v-theme-success));
}
.fault {
  background: rgb(var(--v-theme-tint-error));
  color: rgb(var(--v-theme-error));
}
</style>
