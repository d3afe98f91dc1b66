<script setup lang="ts">
import { computed, ref } from 'vue'
import { actionAlone } from '~~/core/ledger/actions'
import type { LedgerSession } from '~/composables/ledger-sessions'

/** What one person did in one session: the newest entries, and a fold with the others. */
const { session } = defineProps<{ session: LedgerSession }>()
const { short } = useMoments()
const open = ref(false)
const MAX_ACTIONS = 3
const words = computed(() =>
  session.counts
    .slice(0, MAX_ACTIONS)
    .map(([action, count]) => `${actionAlone(action)}${count > 1 ? ` (${count})` : ''}`)
    .concat(session.counts.length > MAX_ACTIONS ? ['others'] : [])
    .join(', '),
)
const since = computed(() => short(session.folded.at(-1)!.at))
</script>

<template>
  <div>
    <LedgerRow v-for="entry in session.shown" :key="entry.id" :entry="entry" />
    <template v-if="session.folded.length > 0">
      <LedgerRow v-for="entry in open ? session.folded : []" :key="entry.id" :entry="entry" />
      <button type="button" class="fold" :aria-expanded="open" @click="open = !open">
        <b>{{ open ? 'Fewer' : `${session.folded.length} more` }}</b><span class="soft">
          by {{ session.actor }} since {{ since }}<template v-if="!open">: {{ words }}</template></span
        >
      </button>
    </template>
  </div>
</template>

<style scoped>
.fold {
  display: block;
  width: 100%;
  min-height: 44px;
  padding: 8px 0 8px 164px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  text-align: left;
}
.fold b {
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
}
@media (max-width: 700px) {
  .fold {
    padding-left: 0;
  }
}
</style>
