<script setup lang="ts">
import type { IntakeFamily } from '~~/core/schemas'

/** A rule that says what many lines say: offered, not forced. */
const { family, mayDecide } = defineProps<{ family: IntakeFamily; mayDecide: boolean }>()
const emit = defineEmits<{ take: [taken: boolean] }>()
const number = (count: number) => count.toLocaleString('en')
</script>

<template>
  <section class="family" :aria-label="`${number(family.links)} lines have one shape`">
    <p>
      <strong>{{ number(family.links) }} lines have one shape.</strong> One rule says the same:
      <span class="mono">{{ family.pattern }} → {{ family.destination }}</span
      ><template v-if="family.exceptions > 0">
        , with {{ number(family.exceptions) }} {{ family.exceptions === 1 ? 'exception' : 'exceptions' }} kept as
        {{ family.exceptions === 1 ? 'a link' : 'links' }}</template
      >. Every line was put to it and led where the line says.
      <template v-if="family.beyond"
        >It takes {{ family.takes === null ? '' : `${number(family.takes)} ` }}addresses, also such as the file does not
        name: <span class="mono">{{ family.domain }}{{ family.beyond }}</span
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
        >Take the rule</VBtn
      >
      <VBtn size="small" :aria-pressed="!family.taken" @click="emit('take', false)"
        >Keep {{ number(family.links) }} links</VBtn
      >
      <span class="soft">{{ family.taken ? 'The rule is taken.' : 'They are brought in as links.' }}</span>
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
