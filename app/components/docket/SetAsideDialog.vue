<script setup lang="ts">
import { ref, watch } from 'vue'
import { DateTime } from 'luxon'
import type { Case } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const open = defineModel<boolean>({ required: true })
const { found } = defineProps<{ found: Case }>()
const emit = defineEmits<{ done: [] }>()
const docket = useDocketStore()
const { toField, fromField, zone } = useMoments()
const until = ref('')
const reason = ref('')
const faults = ref<Record<string, string>>({})
const busy = ref(false)
const draft = useDraft(`set aside ${found.id}`, { until, reason })
const inDays = (days: number) =>
  toField(DateTime.now().setZone(zone()).plus({ days }).set({ hour: 9, minute: 0, second: 0, millisecond: 0 }).toISO())
watch(
  open,
  (is) => {
    if (!is) return
    until.value = inDays(7)
    reason.value = ''
    faults.value = {}
    draft.resume()
  },
  { immediate: true },
)

async function save() {
  busy.value = true
  faults.value = {}
  try {
    await docket.setAside(found, fromField(until.value) ?? '', reason.value)
    draft.forget()
    open.value = false
    emit('done')
  } catch (error) {
    faults.value =
      error instanceof ApiProblem && Object.keys(error.fields).length > 0
        ? error.fields
        : { all: (error as Error).message }
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VDialog v-model="open" max-width="440" aria-labelledby="aside-title">
    <VCard class="pa-5">
      <form class="d-flex flex-column ga-4 field-column" novalidate @submit.prevent="save">
        <h1 id="aside-title">
          Set aside <span class="mono">{{ found.name }}</span>
        </h1>
        <p>{{ found.headline }}. The case reopens on this date if the finding is still there.</p>
        <DateField v-model="until" kind="moment" :label="`Until (${zone()})`" :error-messages="faults.until" />
        <div class="d-flex ga-2">
          <VBtn @click="until = inDays(1)">Tomorrow</VBtn><VBtn @click="until = inDays(7)">In a week</VBtn
          ><VBtn @click="until = inDays(30)">In 30 days</VBtn>
        </div>
        <VTextField v-model="reason" label="Reason" autofocus maxlength="500" :error-messages="faults.reason" />
        <VAlert v-if="faults.all" type="error" variant="tonal" density="compact">{{ faults.all }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">Set aside</VBtn>
          <VBtn @click="open = false">Cancel</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>
