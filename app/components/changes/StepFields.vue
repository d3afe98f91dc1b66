<script setup lang="ts">
import { computed } from 'vue'
import type { Step } from '~~/core/changes'
import { STEP_TITLES } from '~/composables/change-words'

/** The fields of one step by which destinations are rewritten. */
const { at, faults } = defineProps<{ at: number; faults: Record<string, string> }>()
const step = defineModel<Step>({ required: true })
defineEmits<{ remove: [] }>()
const fault = (...names: (string | number)[]) => faults[['change', 'steps', at, ...names].join('/')]
const PARTS = [
  { value: 'path', title: 'the path' },
  { value: 'host', title: 'the host' },
  { value: 'query', title: 'the query' },
  { value: 'whole', title: 'the whole address' },
]
/** Parameters, as one list that says of each what becomes of it. */
type Wish = { do: 'put' | 'remove' | 'rename'; name: string; value: string }
const wishes = computed({
  get: (): Wish[] =>
    step.value.do !== 'parameters'
      ? []
      : [
          ...step.value.remove.map((name) => ({ do: 'remove' as const, name, value: '' })),
          ...step.value.rename.map(({ from, to }) => ({ do: 'rename' as const, name: from, value: to })),
          ...step.value.put.map(({ name, value }) => ({ do: 'put' as const, name, value })),
        ],
  set: (list) => {
    step.value = {
      do: 'parameters',
      remove: list.filter((wish) => wish.do === 'remove').map(({ name }) => name),
      rename: list.filter((wish) => wish.do === 'rename').map(({ name, value }) => ({ from: name, to: value })),
      put: list.filter((wish) => wish.do === 'put').map(({ name, value }) => ({ name, value })),
    }
  },
})
const change = (index: number, more: Partial<Wish>) =>
  (wishes.value = wishes.value.map((wish, place) => (place === index ? { ...wish, ...more } : wish)))
const DOINGS = [
  { value: 'put', title: 'Put' },
  { value: 'remove', title: 'Remove' },
  { value: 'rename', title: 'Rename' },
]
</script>

<template>
  <li class="step">
    <header>
      <h3>{{ at + 1 }}. {{ STEP_TITLES[step.do] }}</h3>
      <VSpacer />
      <VBtn variant="text" size="small" :aria-label="`Remove step ${at + 1}`" @click="$emit('remove')">Remove</VBtn>
    </header>
    <VTextField
      v-if="step.do === 'set'"
      v-model="step.destination"
      class="mono"
      label="Destination"
      :error-messages="fault('destination')"
    />
    <div v-else-if="step.do === 'move-host'" class="pair">
      <VTextField v-model="step.from" class="mono" label="From host" :error-messages="fault('from')" />
      <VTextField v-model="step.to" class="mono" label="To host" :error-messages="fault('to')" />
    </div>
    <template v-else-if="step.do === 'replace'">
      <div class="pair">
        <VTextField
          v-model="step.find"
          class="mono"
          :label="step.pattern ? 'Find (RE2 expression)' : 'Find'"
          :error-messages="fault('find')"
        />
        <VTextField
          v-model="step.with"
          class="mono"
          label="Replace with"
          :hint="step.pattern ? 'A capture is $1, or ${name}.' : ''"
          :persistent-hint="step.pattern"
          :error-messages="fault('with')"
        />
      </div>
      <div class="pair">
        <VSelect v-model="step.in" :items="PARTS" label="In" />
        <VCheckbox v-model="step.pattern" label="Regular expression" hide-details density="compact" />
      </div>
    </template>
    <template v-else-if="step.do === 'parameters'">
      <div v-for="(wish, index) in wishes" :key="index" class="wish">
        <VSelect
          :model-value="wish.do"
          :items="DOINGS"
          label="Parameter"
          @update:model-value="change(index, { do: $event })"
        />
        <VTextField
          :model-value="wish.name"
          class="mono"
          label="Name"
          @update:model-value="change(index, { name: $event })"
        />
        <VTextField
          v-if="wish.do !== 'remove'"
          :model-value="wish.value"
          class="mono"
          :label="wish.do === 'put' ? 'Value' : 'New name'"
          @update:model-value="change(index, { value: $event })"
        />
        <VBtn
          variant="text"
          size="small"
          :aria-label="`Remove parameter ${wish.name}`"
          @click="wishes = wishes.filter((_, place) => place !== index)"
          >Remove</VBtn
        >
      </div>
      <VBtn size="small" @click="wishes = [...wishes, { do: 'put', name: '', value: '' }]">Another parameter</VBtn>
      <p v-if="fault()" class="text-error" role="alert">{{ fault() }}</p>
    </template>
    <p v-else class="soft">Links whose last check found only permanent redirects are pointed to the final page.</p>
  </li>
</template>

<style scoped>
.step {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 10px 0 12px;
}
header {
  display: flex;
  align-items: center;
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 10px;
  align-items: start;
}
.wish {
  display: grid;
  grid-template-columns: 120px 1fr 1fr auto;
  gap: 8px;
  align-items: start;
}
@media (max-width: 700px) {
  .wish {
    grid-template-columns: 1fr;
  }
}
</style>
