<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import { useCreated } from '~/composables/useCreated'
import { useDraft } from '~/composables/useDraft'
import { queryWords } from '~/composables/query-words'
import { isPermanent } from '~~/core/rows/redirect-status'
import type { Link } from '~~/core/schemas'

const { given = {} } = defineProps<{ given?: { destination?: string; slug?: string; domain?: string } }>()
const shown = defineModel<boolean>({ required: true })
const { xs } = useDisplay()
const form = useLinkForm()
const link = useLinkStore()
const { tell } = useCreated()
const { short, fromField } = useMoments()
const { fields, faults, fault, saving, resumed, conflicts, reason } = form
const more = ref(false)
/** Lines that were pasted in place of one destination. */
const lines = ref('')
useDraft('new links', { lines }).resume()
const several = ref<{ save(): Promise<void> }>()
const first = ref<{ focus(): void }>()

watch(
  shown,
  async (open) => {
    if (!open) return form.close()
    form.open(undefined, given)
    more.value = false
    // A given destination is one link.
    if (given.destination) lines.value = ''
    await nextTick()
    first.value?.focus()
  },
  { immediate: true },
)

/** What the fields behind *More options* say, in one line. */
const summary = computed(() =>
  [
    isPermanent(fields.status) ? 'permanent' : 'temporary',
    `query ${queryWords(fields)}`,
    fields.startsAt && `starts ${short(fromField(fields.startsAt)!)}`,
    fields.endsAt ? `ends ${short(fromField(fields.endsAt)!)}` : 'no end date',
    fields.title ? `title “${fields.title}”` : 'no title',
    fields.tags.length > 0 ? `tags ${fields.tags.join(', ')}` : 'no tags',
    fields.owner && `owner ${fields.owner}`,
    fields.note && 'with a note',
  ]
    .filter(Boolean)
    .join(' · '),
)
/** Fields that are always shown; faults of all others unfold them. */
const SHOWN = ['destination', 'domain', 'slug']

async function save(copies: boolean) {
  if (lines.value !== '') return several.value?.save()
  if (saving.value) return
  const saved = await form.save()
  if (!saved) {
    if (Object.keys(faults.value).some((name) => !SHOWN.includes(name))) more.value = true
    await nextTick()
    return document
      .querySelector<HTMLElement>('.new-link .v-input--error input, .new-link .v-input--error textarea')
      ?.focus()
  }
  // Browsers may refuse; then it is not said to be copied.
  const isCopied = copies
    ? await navigator.clipboard.writeText(`https://${saved.domain}/${saved.slug}`).then(
        () => true,
        () => false,
      )
    : false
  shown.value = false
  useNotice().notice.value = undefined
  const entry = link.history[0]
  tell([saved], isCopied, entry && entry.undoRole !== null && useSessionStore().may(entry.undoRole) ? entry : undefined)
}
function created(links: Link[]) {
  if (lines.value === '') shown.value = false
  void useRegisterStore().loadOverall()
  tell(links, false)
}
function keys(event: KeyboardEvent) {
  if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault()
    void save(true)
  }
}
</script>

<template>
  <VDialog
    v-model="shown"
    max-width="780"
    scrollable
    persistent
    no-click-animation
    :fullscreen="xs"
    aria-labelledby="new-link-title"
    @keydown.esc="shown = false"
  >
    <VCard>
      <form class="new-link" novalidate @submit.prevent="save(true)" @keydown="keys">
        <header class="head">
          <h1 id="new-link-title">New link</h1>
          <span class="soft">{{ xs ? 'The draft is kept' : 'Esc closes; the draft is kept' }}</span>
          <VBtn v-if="xs" variant="text" aria-label="Close" @click="shown = false">✕</VBtn>
        </header>
        <div class="body field-column">
          <DraftNotice v-if="resumed" @discard="form.discard()" />
          <VAlert v-if="fault" type="error" role="alert">{{ fault }}</VAlert>
          <template v-if="lines !== ''">
            <SeveralLinks
              ref="several"
              v-model="lines"
              :domain="fields.domain"
              @created="created"
              @single="lines = ''"
            />
          </template>
          <template v-else>
            <DestinationField
              ref="first"
              v-model="fields.destination"
              :fault="faults.destination"
              @lines="lines = $event"
            />
            <DestinationCheck
              :destination="fields.destination"
              :title="fields.title"
              automatic
              @title="fields.title = $event"
            />
            <SlugField
              v-model:domain="fields.domain"
              v-model:slug="fields.slug"
              :fault="faults.slug ?? faults.domain"
              :title="fields.title"
              :destination="fields.destination"
            />
            <div class="defaults">
              <p><RedirectChip :status="fields.status" /> {{ summary }}</p>
              <button
                type="button"
                class="more"
                :aria-expanded="more"
                aria-controls="link-details"
                @click="more = !more"
              >
                {{ more ? 'Fewer options' : 'More options' }}
              </button>
            </div>
            <div v-if="more" id="link-details" class="details field-column">
              <LinkDetailFields :fields="fields" :faults="faults" />
              <TrackingFields v-model="fields.destination" />
              <LinkMoreFields :fields="fields" :faults="faults" />
            </div>
            <ConflictNotice
              v-if="conflicts.length > 0"
              v-model:reason="reason"
              :conflicts="conflicts"
              :fault="reason.trim() === '' ? undefined : faults.reason"
            />
            <div class="acts">
              <VBtn type="submit" color="primary" variant="flat" :loading="saving"
                >Create and copy <kbd class="mono key">Ctrl ↵</kbd></VBtn
              >
              <VBtn :disabled="saving" @click="save(false)">Create</VBtn>
              <span class="soft">To create several, paste lines of <span class="mono">slug destination</span>.</span>
            </div>
          </template>
        </div>
      </form>
    </VCard>
  </VDialog>
</template>

<style scoped>
.new-link {
  display: flex;
  flex-direction: column;
  min-height: 0;
  max-height: 100%;
}
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 12px;
  padding: 18px 26px 4px;
}
.head > .soft {
  font-size: 12px;
}
.body,
.details {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.body {
  padding: 6px 26px 22px;
  overflow-y: auto;
}
.defaults {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
  padding: 9px 12px;
  background: rgb(var(--v-theme-background));
  overflow-wrap: anywhere;
}
.more {
  flex: none;
  min-height: 24px;
  color: rgb(var(--v-theme-soft));
  text-decoration: underline;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
}
.acts > .soft {
  font-size: 12px;
}
.key {
  margin-left: 8px;
  font-size: 12px;
  opacity: 0.8;
}
@media (max-width: 699px) {
  .head,
  .body {
    padding-inline: 14px;
  }
  .acts > .v-btn {
    flex: 1 1 100%;
  }
  .key {
    display: none;
  }
}
</style>
