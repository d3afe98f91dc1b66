<script setup lang="ts">
import { computed, ref, watch } from 'vue'

const route = useRoute()
const store = useLinkStore()
const id = computed(() => Number(route.params.id))
const problem = ref('')
const editing = ref(false)
watch(
  id,
  async (now) => {
    problem.value = ''
    if (!Number.isSafeInteger(now)) return void (problem.value = 'There is no such link.')
    await store.read(now).catch((error: Error) => (problem.value = error.message))
  },
  { immediate: true },
)
useHead({ title: () => `${store.link?.address ?? 'Link'} · Fides` })
useShortcuts({
  e: () => (editing.value = true),
  t: () => store.link && navigateTo({ path: '/trace', query: { address: store.link.address } }),
})
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1 ml-3 mt-2" to="/register">‹ Register</VBtn>
    <VAlert v-if="problem" type="error" variant="tonal" density="compact" class="ma-4">{{ problem }}</VAlert>
    <template v-else-if="store.link?.id === id">
      <h1 class="visually-hidden">{{ store.link.address }}</h1>
      <div class="columns">
        <LinkInspector v-model:editing="editing" :link="store.link" :history="store.history" />
        <LazyLinkTraffic :link="store.link" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.page {
  max-width: 1500px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 620px) minmax(0, 1fr);
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
