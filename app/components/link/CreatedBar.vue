<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useCreated } from '~/composables/useCreated'

/** Shown after creating, with the focus: the result and the likely next acts. Its keys work while it has the focus. */
const { created } = useCreated()
const newLink = useNewLink()
const ledger = useLedgerStore()
const bar = ref<HTMLElement>()
const first = computed(() => created.value?.links[0])
const said = computed(() => {
  const { links, isCopied } = created.value!
  if (links.length > 1) return `${links.length.toLocaleString('en')} links are created.`
  const state = first.value!.waiting ? 'is created. It works once its domain is open' : 'is created'
  return isCopied ? `${state}. Its address is copied.` : `${state}.`
})
watch(created, async (now) => {
  if (!now) return
  await nextTick()
  bar.value?.querySelector<HTMLElement>('a, button')?.focus()
})
const close = () => (created.value = undefined)
function another() {
  close()
  newLink.start()
}
async function undo() {
  const entry = created.value?.entry
  close()
  if (entry) await ledger.undo(entry)
}
const route = useRoute()
watch(() => route.path, close)
</script>

<template>
  <div v-if="created && first" ref="bar" class="bar" role="status" @keydown.esc="close" @keydown.u.exact.stop="undo">
    <p class="said">
      <b v-if="created.links.length === 1" class="mono">{{ first.address }}</b> {{ said }}
    </p>
    <div class="acts">
      <VBtn v-if="created.links.length === 1" :to="`/links/${first.id}`">Open</VBtn>
      <VBtn v-else :to="{ path: '/register', query: { sort: 'made' } }">Show them</VBtn>
      <VBtn :to="{ path: '/trace', query: { address: first.address } }">Trace</VBtn>
      <VBtn @click="another">Create another</VBtn>
      <VBtn v-if="created.entry" @click="undo">Undo <kbd class="mono key">u</kbd></VBtn>
      <VBtn variant="text" aria-label="Close this notice" @click="close">✕</VBtn>
    </div>
  </div>
</template>

<style scoped>
.bar {
  position: fixed;
  z-index: 1010;
  bottom: 24px;
  left: 50%;
  display: flex;
  flex-wrap: wrap;
  gap: 10px 24px;
  align-items: center;
  justify-content: space-between;
  width: min(820px, calc(100vw - 24px));
  padding: 14px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-left: 4px solid rgb(var(--v-theme-success));
  background: rgb(var(--v-theme-surface));
  box-shadow: 0 4px 16px rgb(0 0 0 / 14%);
  transform: translateX(-50%);
}
.said {
  flex: 1 1 240px;
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.key {
  margin-left: 8px;
}
@media (max-width: 699px) {
  .bar {
    bottom: 64px;
  }
}
</style>
