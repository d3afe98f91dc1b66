<script setup lang="ts">
import type { Ref } from 'vue'

interface Form {
  resumed: Ref<boolean>
  meanwhile: Ref<unknown>
  clashes: Ref<{ name: string; before: string; theirs: string; yours: string }[]>
  fault: Ref<string>
  saving: Ref<boolean>
  changed: Ref<readonly unknown[]>
  discard(): void
  takeTheirs(): void
}
/** What stands below the fields of a form over something versioned, `what`; `save` is what its button says. */
const {
  form,
  what,
  mayChange,
  save = 'Save',
} = defineProps<{
  form: Form
  what: string
  mayChange: boolean
  save?: string
}>()
</script>

<template>
  <DraftNotice v-if="form.resumed.value" @discard="form.discard()" />
  <MeanwhileNotice v-if="form.meanwhile.value" :what="what" :clashes="form.clashes.value" @theirs="form.takeTheirs()" />
  <VAlert v-if="form.fault.value" type="warning" variant="tonal" density="compact">{{ form.fault.value }}</VAlert>
  <VBtn
    v-if="mayChange"
    type="submit"
    color="primary"
    variant="flat"
    class="align-self-start"
    :loading="form.saving.value"
    :disabled="form.changed.value.length === 0"
    >{{ save }}</VBtn
  >
</template>
