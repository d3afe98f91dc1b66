<script setup lang="ts">
import type { LinkFields } from '~/composables/useLinkForm'

/** The fields of a link beside its slug and destination; they are seldom needed when it is created. */
const { faults } = defineProps<{ faults: Record<string, string> }>()
const fields = defineModel<LinkFields>('fields', { required: true })
const set = <Name extends keyof LinkFields>(name: Name, value: LinkFields[Name]) =>
  Object.assign(fields.value, { [name]: value })
</script>

<template>
  <VTextField
    :model-value="fields.title"
    label="Title"
    maxlength="300"
    :error-messages="faults.title"
    @update:model-value="set('title', $event ?? '')"
  />
  <RedirectTypeField
    :model-value="fields.status"
    :domain="fields.domain"
    :fault="faults.status"
    @update:model-value="set('status', $event)"
  />
  <QueryField :model-value="fields" @update:model-value="Object.assign(fields, $event)" />
  <TagsField :model-value="fields.tags" :fault="faults.tags" @update:model-value="set('tags', $event)" />
  <VTextField
    :model-value="fields.owner"
    label="Owner"
    maxlength="120"
    :error-messages="faults.owner"
    hint="Who decides where the link leads."
    @update:model-value="set('owner', $event ?? '')"
  />
  <VTextarea
    :model-value="fields.note"
    label="Note"
    rows="2"
    auto-grow
    maxlength="4000"
    :error-messages="faults.note"
    @update:model-value="set('note', $event ?? '')"
  />
</template>
