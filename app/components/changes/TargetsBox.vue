<script setup lang="ts">
import type { Proposal } from '~~/core/schemas'

/** How far the new destinations of a proposal are checked. */
const { checks } = defineProps<{ checks: Proposal['checks'] }>()
</script>

<template>
  <section class="box" aria-labelledby="targets-title">
    <h2 id="targets-title">Targets</h2>
    <p v-if="checks.total === 0" class="soft">No destination changes.</p>
    <template v-else>
      <p role="status">{{ checks.done.toLocaleString('en') }} of {{ checks.total.toLocaleString('en') }} asked</p>
      <VProgressLinear
        :model-value="(100 * checks.done) / checks.total"
        height="6"
        color="primary"
        class="my-1"
        aria-label="Destinations asked"
      />
      <p class="figures">
        <span><StateMark state="sound" /> {{ checks.sound }} sound</span>
        <span><StateMark state="doubtful" /> {{ checks.doubtful }} doubtful</span>
        <span><StateMark state="broken" /> {{ checks.broken }} broken</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.box {
  padding: 12px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
</style>
