<script setup lang="ts">
import { onMounted, ref } from 'vue'

useHead({ title: 'Privacy · Settings · Fides' })
const session = useSessionStore()
const text = ref('')
const load = () =>
  callPrivacyText().then(
    (told) => (text.value = told),
    () => (text.value = ''),
  )
onMounted(load)
async function copy() {
  await navigator.clipboard.writeText(text.value)
  useNotice().tell('Copied the text')
}
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1" to="/settings">‹ Settings</VBtn>
    <h1>What is kept of visitors</h1>
    <div class="columns">
      <PrivacySettings v-if="session.may('administrator')" @saved="load" />
      <p v-else class="soft">Only administrators change what is kept of visitors.</p>
      <section aria-labelledby="text-title">
        <h2 id="text-title">For your privacy page</h2>
        <p class="soft mb-2">Generated from the current settings.</p>
        <p v-for="(part, index) in text.split('\n\n')" :key="index" class="mb-2">{{ part }}</p>
        <VBtn v-if="text" @click="copy">Copy</VBtn>
      </section>
    </div>
  </div>
</template>

<style scoped>
.page {
  max-width: 1200px;
  padding: 8px 20px 40px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 380px), 1fr));
  gap: 32px;
  margin-top: 12px;
}
</style>
