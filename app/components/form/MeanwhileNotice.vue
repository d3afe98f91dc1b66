<script setup lang="ts">
import { fieldWords } from '~/composables/ledger-words'

defineProps<{ what: string; clashes: { name: string; before: string; theirs: string; yours: string }[] }>()
defineEmits<{ theirs: [] }>()
</script>

<template>
  <section class="warning-notice" role="alert">
    <h2>Someone else has saved this {{ what }} since you opened it</h2>
    <p class="mb-2">Your changes have been kept. Compare both versions, then save yours or reload theirs.</p>
    <table>
      <thead>
        <tr>
          <th scope="col">Field</th>
          <th scope="col">Saved version</th>
          <th scope="col">Yours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="clash in clashes" :key="clash.name">
          <th scope="row">{{ fieldWords(clash.name) }}</th>
          <td class="mono" :class="{ differs: clash.theirs !== clash.before }">{{ clash.theirs || '—' }}</td>
          <td class="mono" :class="{ differs: clash.yours !== clash.before }">{{ clash.yours || '—' }}</td>
        </tr>
      </tbody>
    </table>
    <VBtn class="mt-2" @click="$emit('theirs')">Reload the saved version</VBtn>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-spacing: 0 2px;
  font-size: 13px;
}
th {
  text-align: left;
  vertical-align: top;
  padding-right: 10px;
}
td {
  overflow-wrap: anywhere;
  padding-right: 10px;
}
.differs {
  font-weight: 700;
}
</style>
