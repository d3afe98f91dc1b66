<script setup lang="ts">
/** The languages of a visitor somebody tries an address as; `null` where the field was cleared. */
const languages = defineModel<string | null>({ required: true })
</script>

<template>
  <VTextField
    v-model="languages"
    class="mono"
    label="Languages (Accept-Language)"
    placeholder="pt-PT,pt;q=0.9,en;q=0.8"
    maxlength="1000"
    hint="Empty: a visitor who names none"
    persistent-hint
    clearable
  />
</template>
