<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { PASTED } from '~~/core/schemas/intake'
import { useDraft } from '~/composables/useDraft'
import { filesOfDrop, useBringIn, type DroppedFile } from '~/composables/useBringIn'

/** Where files are dropped, chosen or pasted; what they come to is shown before anything is written. */
const domains = useDomainsStore()
const { send, fetchFrom, sending, fault } = useBringIn()
const address = ref('')
const domain = ref('')
watch(
  () => domains.domains,
  (known) => (domain.value ||= known[0]?.host ?? ''),
  { immediate: true },
)
const pasted = ref('')
useDraft('import', { pasted, address }).resume()
const over = ref(false)
const chooser = ref<HTMLInputElement>()
const folder = ref<HTMLInputElement>()
const hosts = computed(() => domains.domains.map(({ host }) => host))
async function drop(event: DragEvent) {
  over.value = false
  if (event.dataTransfer) await send(await filesOfDrop(event.dataTransfer), domain.value)
}
async function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const files: DroppedFile[] = [...(input.files ?? [])].map((file) => ({
    path: file.webkitRelativePath || file.name,
    file,
  }))
  input.value = ''
  await send(files, domain.value)
}
const paste = () => send([{ path: PASTED, file: new Blob([pasted.value]) }], domain.value)
</script>

<template>
  <section class="bring field-column" aria-labelledby="bring-title">
    <h2 id="bring-title">Import</h2>
    <p class="soft">
      CSV, JSON, plain lists, Apache and nginx files, HTML redirects, bookmarks, sitemaps and text. You see the effect
      of each line before anything changes.
    </p>
    <VSelect v-model="domain" :items="hosts" label="For addresses of" class="domain" />
    <div class="drop" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="drop">
      <p>Drop files or a folder here, or</p>
      <div class="ways">
        <VBtn color="primary" variant="flat" :loading="sending" :disabled="!domain" @click="chooser?.click()"
          >Choose files</VBtn
        >
        <VBtn :disabled="sending || !domain" @click="folder?.click()">Choose a folder</VBtn>
      </div>
      <input ref="chooser" type="file" multiple hidden aria-label="Files" @change="chosen" />
      <input ref="folder" type="file" webkitdirectory hidden aria-label="Folder" @change="chosen" />
    </div>
    <VTextarea
      v-model="pasted"
      label="Or paste text"
      rows="4"
      class="mono"
      spellcheck="false"
      hint="Lines of a file, rows of a spreadsheet, a page or a text with addresses"
      persistent-hint
    />
    <VBtn :disabled="pasted.trim() === '' || !domain" :loading="sending" class="mt-2" @click="paste">Read it</VBtn>
    <form class="fetch" @submit.prevent="fetchFrom(address, domain)">
      <VTextField
        v-model="address"
        label="Or fetch from a URL"
        class="mono"
        placeholder="https://www.portansel.example/redirects.txt"
        hint="Only public addresses, and private networks that an administrator has listed"
        persistent-hint
      />
      <VBtn type="submit" class="beside-field" :disabled="address.trim() === '' || !domain" :loading="sending"
        >Fetch it</VBtn
      >
    </form>
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" class="mt-3" role="alert">{{ fault }}</VAlert>
  </section>
</template>

<style scoped>
.bring {
  max-width: 640px;
}
.domain {
  max-width: 320px;
  margin-top: 14px;
}
.drop {
  padding: 20px;
  margin: 4px 0 16px;
  border: 1px dashed rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-surface));
  text-align: center;
}
.drop.over {
  border-color: rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-primary), 0.06);
}
.fetch {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  margin-top: 16px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  justify-content: center;
  margin-top: 8px;
}
</style>
