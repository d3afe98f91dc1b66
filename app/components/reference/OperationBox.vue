<script setup lang="ts">
import { mdiContentCopy } from '@mdi/js'
import { computed } from 'vue'
import type { ReferenceOperation } from '~/composables/reference'

/** One operation of the API: folded to a line, opened to all that is said of it. */
const props = defineProps<{ operation: ReferenceOperation; open: boolean }>()
defineEmits<{ toggle: [open: boolean] }>()
const notice = useNotice()
const answered = computed(() => {
  const { status, type, answers } = props.operation
  return answers.length > 0 ? `Answered with ${status} and` : `Answered with ${status}${type ? `, ${type}` : ''}.`
})

async function copy() {
  await navigator.clipboard.writeText(props.operation.example)
  notice.tell('Copied.')
}
</script>

<template>
  <details :id="operation.id" :open="open" @toggle="$emit('toggle', ($event.target as HTMLDetailsElement).open)">
    <summary>
      <span class="mono method">{{ operation.method }}</span>
      <span class="mono path">{{ operation.path }}</span>
      <span class="words">{{ operation.summary }}</span>
    </summary>
    <div v-if="open" class="inside">
      <p>{{ operation.who }}</p>
      <FieldTable v-if="operation.fields.length > 0" :fields="operation.fields" caption="What is sent" where-told />
      <FieldTable v-if="operation.answers.length > 0" :fields="operation.answers" :caption="answered" />
      <p v-else>{{ answered }}</p>
      <div class="example">
        <pre tabindex="0" :aria-label="`Example of ${operation.id}`">{{ operation.example }}</pre>
        <VBtn :icon="mdiContentCopy" variant="text" size="small" aria-label="Copy the example" @click="copy" />
      </div>
    </div>
  </details>
</template>

<style scoped>
details {
  scroll-margin-top: 100px;
}
summary {
  display: grid;
  grid-template-columns: 62px minmax(0, 5fr) minmax(0, 7fr);
  gap: 0 12px;
  padding: 7px 4px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  cursor: pointer;
}
.method {
  font-weight: 700;
}
.path {
  overflow-wrap: anywhere;
}
.words {
  color: rgb(var(--v-theme-soft));
}
details[open] > summary .words {
  color: inherit;
}
.inside {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 10px 0 20px 74px;
}
.example {
  display: flex;
  align-items: flex-start;
  margin-top: 6px;
  background: rgb(var(--v-theme-surface));
}
pre {
  flex: 1;
  min-width: 0;
  margin: 0;
  padding: 10px 12px;
  overflow-x: auto;
  font-size: 12px;
}
@media (max-width: 700px) {
  summary {
    grid-template-columns: 62px minmax(0, 1fr);
  }
  .words {
    grid-column: 2;
  }
  .inside {
    padding-left: 0;
  }
}
</style>
