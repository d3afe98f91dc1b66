<script setup lang="ts">
import { ref, watch } from 'vue'
import { useDraft } from '~/composables/useDraft'
import type { Link } from '~~/core/schemas'

const { link } = defineProps<{ link: Link }>()
const shown = defineModel<boolean>({ required: true })
const store = useLinkStore()
const { conflicts, reason, clear, take } = useConflicts()
const slug = ref(link.slug)
const domain = ref(link.domain)
const forward = ref(true)
const why = ref('')
const faults = ref<Record<string, string>>({})
const fault = ref('')
const busy = ref(false)
const draft = useDraft(`rename of link ${link.id}`, { slug, domain, forward, why })
watch(
  shown,
  (open) => {
    if (!open) return
    slug.value = link.slug
    domain.value = link.domain
    forward.value = true
    why.value = ''
    reason.value = ''
    fault.value = ''
    faults.value = {}
    clear()
    draft.resume()
  },
  { immediate: true },
)
function discard() {
  draft.forget()
  shown.value = false
}
watch(slug, clear)

async function save() {
  busy.value = true
  fault.value = ''
  faults.value = {}
  const said = reason.value.trim() || why.value.trim()
  try {
    await store.change(
      link.id,
      link.version,
      { slug: slug.value.trim(), forward: forward.value, ...(said && { reason: said }) },
      'Renamed',
    )
    discard()
  } catch (error) {
    if (take(error)) return
    faults.value = error instanceof ApiProblem ? error.fields : {}
    if (!faults.value.slug) fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VDialog v-model="shown" max-width="560" aria-labelledby="rename-title">
    <VCard class="pa-5">
      <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="save">
        <h1 id="rename-title">
          Rename <span class="mono">{{ link.address }}</span>
        </h1>
        <p>The new slug works at once. Printed copies keep the old slug.</p>
        <SlugField
          v-model:domain="domain"
          v-model:slug="slug"
          :fault="faults.slug"
          :title="link.title"
          :destination="link.destination"
          :link="link.id"
        />
        <VCheckbox
          v-model="forward"
          :label="`Keep ${link.slug} as a further slug`"
          :hint="
            forward
              ? 'Printed copies of it keep working.'
              : 'Printed copies of it stop working, and the slug can be used for another link.'
          "
          persistent-hint
        />
        <VTextField v-model="why" label="Reason (kept in the ledger)" maxlength="500" />
        <ConflictNotice v-if="conflicts.length > 0" v-model:reason="reason" :conflicts="conflicts" />
        <VAlert v-if="fault" type="error" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn
            type="submit"
            color="primary"
            variant="flat"
            :loading="busy"
            :disabled="slug.trim() === '' || slug.trim() === link.slug"
            >Rename</VBtn
          >
          <VBtn @click="discard">Discard</VBtn>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>
