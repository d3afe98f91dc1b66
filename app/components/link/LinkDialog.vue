<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import type { Link } from '~~/core/schemas'

const { link } = defineProps<{ link: Link }>()
const shown = defineModel<boolean>({ required: true })
const { xs } = useDisplay()
const form = useLinkForm()
const { fields, faults, fault, saving, opened, meanwhile, clashes, resumed, conflicts, reason } = form
const more = ref(false)
const first = ref<{ focus(): void }>()

watch(
  shown,
  async (open) => {
    if (!open) return form.close()
    form.open(link)
    more.value = Boolean(link.startsAt || link.endsAt || link.endedDestination || link.robots || link.referrerPolicy)
    await nextTick()
    first.value?.focus()
  },
  { immediate: true },
)

const LATER = ['startsAt', 'endsAt', 'endedDestination', 'robots', 'referrerPolicy']
async function save() {
  const saved = await form.save()
  if (saved) {
    shown.value = false
    return
  }
  if (LATER.some((name) => faults.value[name])) more.value = true
  await nextTick()
  document.querySelector<HTMLElement>('.link-form .v-input--error input, .link-form .v-input--error textarea')?.focus()
}
</script>

<template>
  <VDialog
    v-model="shown"
    max-width="720"
    scrollable
    persistent
    no-click-animation
    :fullscreen="xs"
    aria-labelledby="link-form-title"
    @keydown.esc="shown = false"
  >
    <VCard>
      <form class="link-form" novalidate @submit.prevent="save">
        <header class="head">
          <h1 id="link-form-title">
            Edit <span v-if="opened" class="mono">{{ opened.address }}</span>
          </h1>
        </header>
        <div class="body field-column">
          <DraftNotice v-if="resumed" @discard="form.discard()" />
          <MeanwhileNotice v-if="meanwhile" what="link" :clashes="clashes" @theirs="form.takeTheirs()" />
          <VAlert v-if="fault" type="error" variant="tonal" density="compact" class="mb-4" role="alert">{{
            fault
          }}</VAlert>
          <DestinationField ref="first" v-model="fields.destination" :fault="faults.destination" :own-id="opened?.id" />
          <DestinationCheck
            :destination="fields.destination"
            :known="opened?.destination"
            :title="fields.title"
            @title="fields.title = $event"
          />
          <PermanentNotice
            v-if="opened && fields.destination !== opened.destination"
            :link="opened"
            :destination="fields.destination"
            @planned="(form.discard(), (shown = false))"
          />
          <LinkDetailFields :fields="fields" :faults="faults" />
          <TrackingFields v-model="fields.destination" />
          <VBtn
            variant="text"
            class="align-self-start px-1"
            :aria-expanded="more"
            aria-controls="link-more"
            @click="more = !more"
            >{{ more ? 'Hide' : 'Show' }} dates and headers</VBtn
          >
          <LinkMoreFields v-show="more" id="link-more" :fields="fields" :faults="faults" />
          <ConflictNotice
            v-if="conflicts.length > 0"
            v-model:reason="reason"
            :conflicts="conflicts"
            :fault="reason.trim() === '' ? undefined : faults.reason"
          />
        </div>
        <footer class="foot">
          <VBtn type="submit" color="primary" variant="flat" :loading="saving">{{
            meanwhile ? 'Overwrite with my version' : 'Save'
          }}</VBtn>
          <VBtn @click="(form.discard(), (shown = false))">Discard</VBtn>
        </footer>
      </form>
    </VCard>
  </VDialog>
</template>

<style scoped>
.link-form {
  display: flex;
  flex-direction: column;
  min-height: 0;
  max-height: 100%;
}
.head {
  padding: 16px 20px 6px;
}
.body {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 10px 20px 16px;
  overflow-y: auto;
}
.foot {
  display: flex;
  gap: 8px;
  padding: 12px 20px;
  border-top: 1px solid rgb(var(--v-theme-rule));
}
</style>
