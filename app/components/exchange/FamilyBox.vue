<script setup lang="ts">
import type { IntakeFamily } from '~~/core/schemas'

/** A rule that says what many lines say: offered, not forced. */
const { family, mayDecide } = defineProps<{ family: IntakeFamily; mayDecide: boolean }>()
const emit = defineEmits<{ take: [taken: boolean] }>()
const number = (count: number) => count.toLocaleString('en')
</script>

<template>
  <section class="family" :aria-label="`${number(family.links)} lines follow one pattern`">
    <p>
      <strong>{{ number(family.links) }} lines follow one pattern.</strong> One rule can replace them:
      <span class="mono">{{ family.pattern }} → {{ family.destination }}</span
      ><template v-if="family.exceptions > 0">
        , with {{ number(family.exceptions) }} {{ family.exceptions === 1 ? 'exception' : 'exceptions' }} kept as
        {{ family.exceptions === 1 ? 'a link' : 'links' }}</template
      >. Tested against every line: each reaches the destination in the file.
      <template v-if="family.beyond"
        >It matches {{ family.takes === null ? '' : `${number(family.takes)} ` }}addresses, including some that are not
        in the file, for example <span class="mono">{{ family.domain }}{{ family.beyond }}</span
        >.</template
      >
    </p>
    <div v-if="mayDecide" class="ways">
      <VBtn
        size="small"
        :color="family.taken ? undefined : 'primary'"
        :variant="family.taken ? undefined : 'flat'"
        :aria-pressed="family.taken"
        @click="emit('take', true)"
        >Use the rule</VBtn
      >
      <VBtn size="small" :aria-pressed="!family.taken" @click="emit('take', false)"
        >Keep {{ number(family.links) }} links</VBtn
      >
      <span class="soft">{{ family.taken ? 'The rule is used.' : 'Imported as links.' }}</span>
    </div>
  </section>
</template>

<style scoped>
.family {
  padding: 10px 14px;
  margin-bottom: 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-left: 4px solid rgb(var(--v-theme-info));
  background: rgb(var(--v-theme-surface));
  overflow-wrap: anywhere;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}
</style>
