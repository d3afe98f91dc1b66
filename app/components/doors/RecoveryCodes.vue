<script setup lang="ts">
/** Recovery codes, shown this once. */
const { codes } = defineProps<{ codes: readonly string[] }>()
const copy = async () => {
  await navigator.clipboard.writeText(codes.join('\n'))
  useNotice().tell('Copied the recovery codes')
}
</script>

<template>
  <VAlert v-if="codes.length > 0" type="success" variant="tonal" role="status">
    <p>
      <b>Store these recovery codes in a safe place.</b> Each code replaces your second factor once. They are shown only
      once.
    </p>
    <ul class="codes mono">
      <li v-for="code in codes" :key="code">{{ code }}</li>
    </ul>
    <VBtn @click="copy">Copy all</VBtn>
  </VAlert>
</template>

<style scoped>
.codes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 4px 16px;
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
</style>
