<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Link } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

/** Asks when a link that is paused resumes, if that is known. */
const { link, problem, busy } = defineProps<{ link: Link; problem: string; busy: boolean }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ pause: [resumesAt: string | null] }>()
const { fromField, zone } = useMoments()
const resumes = ref('')
const draft = useDraft(`pause of link ${link.id}`, { resumes })
watch(open, (is) => is && draft.resume(), { immediate: true })
watch(
  () => link.standing,
  (standing) => {
    if (standing !== 'paused') return
    draft.forget()
    resumes.value = ''
  },
)
</script>

<template>
  <VDialog v-model="open" max-width="420" aria-labelledby="pause-title">
    <VCard class="pa-5">
      <form novalidate @submit.prevent="emit('pause', fromField(resumes))">
        <h1 id="pause-title" class="mb-2">Pause {{ link.address }}</h1>
        <p class="mb-4">
          With a moment to resume, visitors are told when to come back; without one, only that it is paused.
        </p>
        <DateField
          v-model="resumes"
          autofocus
          kind="moment"
          :label="`Resumes (${zone()}), if known`"
          :error-messages="problem"
        />
        <div class="d-flex ga-2 mt-4">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">Pause</VBtn>
          <VBtn @click="open = false">Cancel</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>
