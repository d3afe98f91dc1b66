<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'

/** What scripts may ask of Fides, made from the same document they are given. */
useHead({ title: 'API · Fides' })
const reference = useReferenceStore()
const route = useRoute()
const router = useRouter()
const sought = ref('')
const open = ref(route.hash.slice(1))
const found = computed(() => {
  const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
  return reference.groups
    .map(({ name, operations }) => ({
      name,
      operations: operations.filter(({ id, method, path, summary }) => {
        const text = `${id} ${method} ${path} ${summary}`.toLowerCase()
        return words.every((word) => text.includes(word))
      }),
    }))
    .filter(({ operations }) => operations.length > 0)
})
const count = computed(() => found.value.reduce((sum, { operations }) => sum + operations.length, 0))

function toggle(id: string, now: boolean) {
  if (now) open.value = id
  else if (open.value === id) open.value = ''
  else return
  void router.replace({ hash: open.value && `#${open.value}` })
}

/** Opens what the address names, and goes there. */
async function goToNamed() {
  if (route.hash.slice(1) === '') return
  open.value = route.hash.slice(1)
  sought.value = ''
  await nextTick()
  document.getElementById(open.value)?.scrollIntoView({ block: 'start' })
}
watch(
  () => route.hash,
  (hash) => hash.slice(1) !== open.value && goToNamed(),
)
onMounted(async () => {
  await reference.load()
  await goToNamed()
})
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1 back" to="/settings">‹ Settings</VBtn>
    <h1>API</h1>
    <p class="intro">
      Scripts can do the same as the interface with a <NuxtLink to="/settings">token</NuxtLink>, sent as
      <code>Authorization: Bearer …</code>. Operations limited to signed-in people are marked. Errors are problem
      details (RFC 9457). What is changed is named in the version it was read in (<code>If-Match</code>); what takes an
      <code>Idempotency-Key</code> is done once, however often it is sent. The same as a document:
      <a href="/api/v1/openapi.json">OpenAPI 3.1</a>.
    </p>
    <VTextField v-model="sought" label="Find" type="search" class="find" hide-details />
    <VAlert v-if="reference.problem" type="error" variant="tonal" density="compact" role="alert">
      {{ reference.problem }} <VBtn variant="text" @click="reference.load()">Try again</VBtn>
    </VAlert>
    <p v-else class="soft" role="status">
      {{ count === 1 ? '1 operation' : `${count} operations` }}<template v-if="sought"> with “{{ sought }}”</template>
    </p>
    <section v-for="group in found" :key="group.name" :aria-labelledby="`group-${group.name}`">
      <h2 :id="`group-${group.name}`" class="mono">/{{ group.name }}</h2>
      <OperationBox
        v-for="operation in group.operations"
        :key="operation.id"
        :operation="operation"
        :open="open === operation.id"
        @toggle="toggle(operation.id, $event)"
      />
    </section>
  </div>
</template>

<style scoped>
.page {
  max-width: 1100px;
  padding: 8px 20px 40px;
}
.intro {
  max-width: 76ch;
  margin: 6px 0 12px;
}
.find {
  max-width: 420px;
  margin-bottom: 8px;
}
section {
  margin-top: 20px;
}
</style>
