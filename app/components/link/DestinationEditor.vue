<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Link } from '~~/core/schemas'
import { REDIRECTS } from '~/composables/redirect-words'

/** The destination of a link, edited in place, with the consequences beside *Save*. */
const { link } = defineProps<{ link: Link }>()
const form = useLinkForm()
const { fields, faults, fault, saving, opened, meanwhile, clashes, conflicts, reason, changed } = form
const field = ref<{ focus(): void; select(): void }>()
// Opened again for another link, and after the dialog saved this one; unsaved input stays.
watch(
  () => [link.id, link.version] as const,
  ([id, version], before) => {
    if (id !== before?.[0] || (version !== before[1] && !form.changed.value.length)) form.open(link)
  },
  { immediate: true },
)
onBeforeUnmount(() => form.close())

const isChanged = computed(() => changed.value.some((name) => name === 'destination' || name === 'status'))
async function save() {
  if (saving.value || !isChanged.value) return
  const saved = await form.save()
  if (saved) form.open(saved)
  else field.value?.focus()
}
function discard() {
  form.discard()
  form.open(link)
}
/** Leaves the field, so that the keys of the page work; unsaved input stays. */
const leave = () => document.getElementById('link-address')?.focus()
const schedule = computed(() => ({
  path: '/changes/new',
  query: { links: String(link.id), destination: fields.destination },
}))
defineExpose({ focus: () => field.value?.select() })
</script>

<template>
  <form class="editor field-column" novalidate @submit.prevent="save" @keydown.esc="leave">
    <MeanwhileNotice v-if="meanwhile" what="link" :clashes="clashes" @theirs="form.takeTheirs()" />
    <VAlert v-if="fault" type="error" role="alert">{{ fault }}</VAlert>
    <div class="pair">
      <DestinationField
        ref="field"
        v-model="fields.destination"
        class="destination"
        :fault="faults.destination"
        :own-id="link.id"
        :quiet="fields.destination === link.destination"
      />
      <VSelect v-model="fields.status" :items="REDIRECTS" label="Redirect" class="redirect mono" />
    </div>
    <p v-if="!isChanged && link.target" class="seen">
      <StateMark :state="link.target.confidence" /> {{ link.target.sentence }}
    </p>
    <template v-if="isChanged">
      <DestinationCheck :destination="fields.destination" :known="opened?.destination" />
      <p v-if="fields.destination !== link.destination" class="soft seen">
        Was <span class="mono">{{ link.destination }}</span>
      </p>
      <ChangeConsequences :link="link" :destination="fields.destination" :status="fields.status" @planned="discard" />
      <ConflictNotice
        v-if="conflicts.length > 0"
        v-model:reason="reason"
        :conflicts="conflicts"
        :fault="reason.trim() === '' ? undefined : faults.reason"
      />
      <div class="foot">
        <VTextField
          v-if="conflicts.length === 0"
          v-model="reason"
          class="reason"
          label="Reason (optional, kept in the ledger)"
          maxlength="500"
        />
        <VBtn type="submit" color="primary" variant="flat" :loading="saving"
          >{{ meanwhile ? 'Save mine over it' : 'Save' }} <kbd class="mono key">↵</kbd></VBtn
        >
        <VBtn v-if="fields.destination !== link.destination" :to="schedule">Schedule…</VBtn>
        <VBtn variant="text" @click="discard">Discard</VBtn>
      </div>
    </template>
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.pair,
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: flex-start;
}
.foot {
  align-items: flex-end;
}
.destination {
  flex: 1 1 320px;
  min-width: 0;
}
.redirect {
  flex: 0 0 176px;
}
.reason {
  flex: 1 1 260px;
}
.seen {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
</style>
