<script setup lang="ts">
import type { LanguagePart } from '~~/core/conditions'

const part = defineModel<LanguagePart>({ required: true })
const USUAL = ['en', 'pt', 'es', 'fr', 'de', 'it', 'nl', 'pl', 'uk', 'ar', 'zh']
</script>

<template>
  <VCombobox
    :model-value="part.languages"
    class="mono"
    :items="USUAL"
    label="Preferred language is one of"
    multiple
    chips
    closable-chips
    hint="By their tags, like pt or pt-BR. It is the language wanted most of all that rules for the address name."
    persistent-hint
    @update:model-value="part = { ...part, languages: $event }"
  />
</template>
