<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { visitsADay } from '~/composables/visits-a-day'
import type { ConflictView } from '~~/core/schemas'

const { conflicts, fault = undefined } = defineProps<{ conflicts: ConflictView[]; fault?: string }>()
const reason = defineModel<string>('reason', { required: true })
const field = ref<{ focus(): void }>()
onMounted(() => field.value?.focus())
</script>

<template>
  <section class="warning-notice" role="alert" aria-labelledby="conflict-title">
    <h2 id="conflict-title">
      {{ conflicts.length === 1 ? 'This would be in conflict' : `This would be in ${conflicts.length} conflicts` }}
    </h2>
    <ul>
      <li v-for="conflict in conflicts" :key="conflict.key">
        <StateMark :state="conflict.severity" /> <b>{{ conflict.headline }}.</b> {{ conflict.sentence }}
        <span v-if="conflict.witness" class="soft"
          >See
          <NuxtLink
            :to="{ path: '/trace', query: { address: conflict.witness } }"
            target="_blank"
            class="mono witness"
            >{{ conflict.witness }}</NuxtLink>.{{ ' ' }}</span
        >
        <span v-if="conflict.impact > 0" class="soft">{{ visitsADay(conflict.impact) }} visits a day.</span>
      </li>
    </ul>
    <VTextField
      ref="field"
      v-model="reason"
      label="Reason for saving anyway"
      maxlength="500"
      :error-messages="fault"
      hint="Change it, or enter a reason to save anyway. The reason is kept with the conflict."
      persistent-hint
    />
  </section>
</template>

<style scoped>
ul {
  margin: 6px 0 12px;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
li {
  padding: 3px 0;
}
.witness {
  overflow-wrap: anywhere;
}
</style>
