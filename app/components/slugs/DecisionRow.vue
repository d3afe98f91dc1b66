<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { AffectedLink, SlugDecision } from '~~/core/schemas'

const { link, others, decision, shared, keeps } = defineProps<{
  link: AffectedLink
  others: AffectedLink[]
  decision: SlugDecision | undefined
  shared: boolean
  keeps: boolean
}>()
const emit = defineEmits<{ decide: [decision: SlugDecision | undefined] }>()
const slug = ref(link.suggestion ?? '')
const into = ref<number | undefined>(others[0]?.id)

const choices = computed(() => [
  ...(shared
    ? [{ value: '', title: keeps ? 'Keeps the address' : 'Choose…' }]
    : [
        { value: '', title: keeps ? 'Kept as an exception' : 'Choose…' },
        { value: 'keep', title: 'Keep as an exception' },
      ]),
  { value: 'rename', title: shared ? 'Rename' : 'Rename; old slug redirects' },
  { value: 'merge', title: 'Merge into another' },
  ...(link.standing === 'forwarding' ? [] : [{ value: 'end', title: 'End' }]),
])
const choice = computed(() => decision?.do ?? '')
function choose(value: string) {
  if (value === '' || value === 'keep') emit('decide', value === '' ? undefined : { do: 'keep' })
  else if (value === 'rename') emit('decide', { do: 'rename', slug: slug.value })
  else if (value === 'merge') emit('decide', { do: 'merge', into: into.value ?? 0 })
  else emit('decide', { do: 'end' })
}
watch(slug, () => choice.value === 'rename' && choose('rename'))
watch(into, () => choice.value === 'merge' && choose('merge'))
const placed = computed(() => {
  const { count, copies, fixed } = link.placements
  if (count === 0) return 'no placements'
  const times = count === 1 ? '1 placement' : `${count} placements`
  const copied = `${copies.toLocaleString('en')} ${copies === 1 ? 'copy' : 'copies'}`
  return `${times}, ${copied}${fixed ? ', cannot be changed' : ''}`
})
</script>

<template>
  <div class="row">
    <div class="what">
      <div>
        <b class="mono">{{ link.slug }}</b>{{ ' ' }}
        <span class="soft"
          >→ <span class="mono to">{{ link.destination }}</span></span
        >
      </div>
      <div class="soft figures">
        {{ link.visits28.toLocaleString('en') }} visits in 28 days · {{ placed
        }}<template v-if="link.standing !== 'live'"> · {{ link.standing }}</template
        ><template v-if="link.title"> · {{ link.title }}</template>
      </div>
      <div v-for="sentence in link.sentences" :key="sentence" class="figures">{{ sentence }}</div>
      <div v-if="shared && choice !== '' && link.placements.fixed" class="figures text-doubtful">
        Printed copies of it will lead where {{ others.length === 1 ? others[0]!.slug : 'the keeper' }} leads.
      </div>
    </div>
    <div class="choose">
      <VSelect
        :model-value="choice"
        :items="choices"
        density="compact"
        :aria-label="`Decision for ${link.slug}`"
        :label="`Decision for ${link.slug}`"
        @update:model-value="choose"
      />
      <VTextField
        v-if="choice === 'rename'"
        v-model="slug"
        class="mono"
        density="compact"
        label="New slug"
        maxlength="200"
      />
      <VSelect
        v-if="choice === 'merge' && others.length > 0"
        v-model="into"
        :items="others.map((other) => ({ value: other.id, title: other.slug }))"
        density="compact"
        label="Becomes part of"
        class="mono"
      />
      <VNumberInput
        v-else-if="choice === 'merge'"
        v-model="into"
        density="compact"
        label="Number of the link"
        control-variant="hidden"
        :min="1"
      />
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  padding: 8px 0;
}
.row + .row {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.what {
  flex: 1 1 240px;
  min-width: 0;
  overflow-wrap: anywhere;
}
.to,
.figures {
  font-size: 13px;
}
.choose {
  display: flex;
  flex: 0 1 230px;
  flex-direction: column;
  gap: 8px;
  align-self: flex-start;
}
.choose > .v-input {
  flex: none;
}
</style>
