<script setup lang="ts">
import { computed } from 'vue'
import { changedFields, sentenceAlone, sentenceOf } from '~/composables/ledger-words'
import type { LedgerEntry } from '~~/core/schemas'

const { entry, narrow = false } = defineProps<{ entry: LedgerEntry; narrow?: boolean }>()
const session = useSessionStore()
const ledger = useLedgerStore()
const { short, exact } = useMoments()
const fields = computed(() => changedFields(entry))
/** What a change to many links did, in words, with where each is told. */
const many = computed(() =>
  entry.subject.kind === 'links' && typeof entry.after?.words === 'string'
    ? (entry.after as { words: string; proposal?: number })
    : undefined,
)
const mayUndo = computed(() => entry.undoRole !== null && session.may(entry.undoRole))
</script>

<template>
  <div class="entry" :class="{ narrow, undone: entry.undoneBy !== null }">
    <time :datetime="entry.at" :title="exact(entry.at)" class="soft">{{ short(entry.at) }}</time>
    <div class="what">
      <div>
        <b>{{ narrow ? sentenceAlone(entry) : sentenceOf(entry) }}</b>
        <template v-if="!narrow"
          >&nbsp;<NuxtLink
            v-if="entry.subject.kind === 'link' && entry.after"
            :to="`/links/${entry.subject.id}`"
            class="mono subject"
            >{{ entry.subject.label }}</NuxtLink
          ><span v-else class="mono">{{ entry.subject.label }}</span></template
        >
        <span class="soft"> by {{ entry.actor }}</span>
        <span v-if="entry.undoneBy !== null" class="soft">, undone</span>
      </div>
      <div v-if="entry.reason" class="soft">“{{ entry.reason }}”</div>
      <div v-if="many">
        {{ many.words
        }}<template v-if="many.proposal">: <NuxtLink :to="`/changes/${many.proposal}`">Show links</NuxtLink></template>
      </div>
      <div v-if="entry.since"><StateMark state="sound" /> {{ entry.since }}</div>
      <div v-for="field in fields" :key="field.name" class="field">
        <span class="soft">{{ field.name }}</span>
        <span
          ><del v-if="field.before !== ''" class="mono">{{ field.before }}</del
          ><span v-if="field.before !== '' && field.after !== ''" class="soft" aria-hidden="true"> → </span
          ><ins v-if="field.after !== ''" class="mono">{{ field.after }}</ins></span
        >
      </div>
    </div>
    <VBtn
      v-if="mayUndo"
      class="undo"
      variant="text"
      color="primary"
      :aria-label="`Undo: ${sentenceOf(entry)} ${entry.subject.label}`"
      @click="ledger.undo(entry)"
      >Undo</VBtn
    >
  </div>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 150px 1fr auto;
  gap: 4px 14px;
  align-items: start;
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.narrow {
  grid-template-columns: 1fr auto;
  font-size: 13px;
}
.narrow time {
  grid-column: 1 / -1;
  font-size: 12px;
}
.what {
  min-width: 0;
}
.subject {
  color: rgb(var(--v-theme-primary));
}
.field {
  display: flex;
  gap: 10px;
  font-size: 13px;
}
.field > :first-child {
  flex: 0 0 92px;
}
.field > :last-child {
  min-width: 0;
  overflow-wrap: anywhere;
}
del {
  color: rgb(var(--v-theme-soft));
}
ins {
  text-decoration: none;
}
.narrow .field {
  flex-direction: column;
  gap: 0;
}
.narrow .field > :first-child {
  flex: none;
  font-size: 12px;
}
@media (max-width: 700px) {
  .entry {
    grid-template-columns: 1fr auto;
  }
  .entry time {
    grid-column: 1 / -1;
  }
  .field {
    flex-direction: column;
    gap: 0;
  }
  .field > :first-child {
    flex: none;
  }
}
</style>
