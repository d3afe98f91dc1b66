<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { visitsADay } from '~/composables/visits-a-day'

/** What can be fixed in one step, above the list of cases. */
const docket = useDocketStore()
const failed = ref(false)
onMounted(() => docket.readRound().catch(() => (failed.value = true)))
const round = computed(() => docket.round)
</script>

<template>
  <section v-if="round && round.fixes > 0" class="banner" aria-label="Morning round">
    <p>
      <b>{{ round.fixes.toLocaleString('en') }} {{ round.fixes === 1 ? 'case' : 'cases' }} can be fixed in one step</b>
    </p>
    <p class="why">Verified and reversible as one change. {{ visitsADay(round.visits) }} visits a day affected.</p>
    <VBtn to="/morning-round" class="go">Review the plan <kbd class="mono key">m</kbd></VBtn>
  </section>
  <!-- Its place is kept, so that the list below does not jump. -->
  <div v-else-if="!round && !failed" class="place" aria-hidden="true" />
</template>

<style scoped>
.banner {
  margin: 0 14px 8px;
  padding: 8px 12px;
  border-left: 4px solid rgb(var(--v-theme-success));
  background: rgb(var(--v-theme-tint-success));
}
.place {
  height: 98px;
}
.why {
  font-size: 13px;
}
.go {
  margin-top: 4px;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
</style>
