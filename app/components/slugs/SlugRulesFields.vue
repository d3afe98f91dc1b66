<script setup lang="ts">
import { computed, ref } from 'vue'
import { SEPARATORS } from '~~/core/slugs/alphabets'
import type { SlugRulesFields } from '~/composables/useSlugRulesForm'

const { usualBlocked, mayChange, faults } = defineProps<{
  usualBlocked: readonly string[]
  mayChange: boolean
  faults: Record<string, string>
}>()
const fields = defineModel<SlugRulesFields>({ required: true })
// Nobody wants to meet these words unasked.
const listed = ref(false)
const ALPHABETS = [
  { value: 'letters', title: 'Letters (upper and lower case) and digits' },
  { value: 'lower', title: 'Lower-case letters and digits' },
  { value: 'unmistakable', title: 'Easy to read: lower-case letters and digits without i l 1 o 0' },
  { value: 'own', title: 'Custom characters' },
]
const separators = computed({
  get: () => [...(fields.value.separators ?? '')],
  set: (list) =>
    (fields.value.separators = SEPARATORS.split('')
      .filter((one) => list.includes(one))
      .join('')),
})
const lines = (key: 'reserved' | 'blocked') =>
  computed({
    get: () => (fields.value[key] ?? []).join('\n'),
    set: (text: string) => (fields.value[key] = text.split(/\s+/).filter(Boolean)),
  })
const reserved = lines('reserved')
const blocked = lines('blocked')
const fill = () => (fields.value.blocked = [...new Set([...fields.value.blocked, ...usualBlocked])].sort())
</script>

<template>
  <div class="fields">
    <VSelect
      v-model="fields.alphabet"
      :items="ALPHABETS"
      label="Alphabet"
      :readonly="!mayChange"
      :error-messages="faults.alphabet"
    />
    <VTextField
      v-if="fields.alphabet === 'own'"
      v-model="fields.ownAlphabet"
      class="mono"
      label="Its characters"
      :readonly="!mayChange"
      :error-messages="faults.ownAlphabet"
    />
    <div class="pair">
      <VNumberInput
        v-model="fields.minLength"
        label="Minimum length"
        :min="1"
        :max="200"
        :readonly="!mayChange"
        :error-messages="faults.minLength"
      />
      <VNumberInput
        v-model="fields.maxLength"
        label="Maximum length"
        :min="1"
        :max="200"
        :readonly="!mayChange"
        :error-messages="faults.maxLength"
      />
      <VNumberInput
        v-model="fields.randomLength"
        label="Random slugs"
        :min="1"
        :max="64"
        :readonly="!mayChange"
        :error-messages="faults.randomLength"
      />
      <VNumberInput
        v-model="fields.depth"
        label="Maximum path segments"
        :min="1"
        :max="20"
        :readonly="!mayChange"
        :error-messages="faults.depth"
      />
    </div>
    <fieldset class="plain">
      <legend class="soft">Separators</legend>
      <VCheckbox
        v-for="one in SEPARATORS"
        :key="one"
        v-model="separators"
        density="compact"
        hide-details
        :value="one"
        :label="one"
        class="mono"
        :disabled="!mayChange"
      />
    </fieldset>
    <VSwitch
      v-model="fields.capitalsMatter"
      density="compact"
      color="primary"
      label="Case-sensitive"
      :hint="fields.capitalsMatter ? 'Fares and fares are two addresses' : 'Fares and fares are one address'"
      persistent-hint
      :disabled="!mayChange"
    />
    <VSwitch
      v-model="fields.trailingSlashMatters"
      density="compact"
      color="primary"
      label="Trailing slash matters"
      :hint="fields.trailingSlashMatters ? 'fares and fares/ are two addresses' : 'fares and fares/ are one address'"
      persistent-hint
      :disabled="!mayChange"
    />
    <VSwitch
      v-model="fields.otherScripts"
      density="compact"
      hide-details="auto"
      color="primary"
      label="Allow other scripts (one script per slug)"
      :disabled="!mayChange"
    />
    <VSwitch
      v-model="fields.randomUnmistakable"
      density="compact"
      hide-details="auto"
      color="primary"
      label="Random slugs leave out i l 1 o 0"
      :disabled="!mayChange"
      :error-messages="faults.randomUnmistakable"
    />
    <VCombobox
      v-model="fields.prefixes"
      class="mono"
      label="Family prefixes: every slug starts with one of these"
      multiple
      chips
      closable-chips
      :readonly="!mayChange"
      :error-messages="faults.prefixes"
      hint="Like “go”, for go/… beside the main website’s own paths. Empty: any slug."
      persistent-hint
    />
    <VTextarea
      v-model="reserved"
      class="mono-area"
      label="Reserved names, one per line"
      rows="2"
      auto-grow
      max-rows="6"
      :readonly="!mayChange"
      :error-messages="faults.reserved"
    />
    <div class="d-flex flex-wrap ga-2 align-center">
      <span>{{
        fields.blocked.length === 0 ? 'No blocked words' : `${fields.blocked.length.toLocaleString('en')} blocked words`
      }}</span>
      <VBtn variant="text" :aria-expanded="listed" aria-controls="blocked-words" @click="listed = !listed">{{
        listed ? 'Hide them' : mayChange ? 'Show and change them' : 'Show them'
      }}</VBtn>
      <VBtn v-if="mayChange" variant="text" @click="fill">Add the standard list</VBtn>
    </div>
    <VTextarea
      v-if="listed || faults.blocked"
      id="blocked-words"
      v-model="blocked"
      class="mono-area"
      label="Blocked words, one a line"
      rows="2"
      max-rows="6"
      auto-grow
      :readonly="!mayChange"
      :error-messages="faults.blocked"
    />
  </div>
</template>

<style scoped>
.fields {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
}
.plain {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  align-items: center;
  border: 0;
}
.mono-area :deep(textarea) {
  font-family: var(--fides-mono);
  font-size: 13px;
}
</style>
