<script setup lang="ts">
import { fieldWords } from '~/composables/ledger-words'

defineProps<{ what: string; clashes: { name: string; before: string; theirs: string; yours: string }[] }>()
defineEmits<{ theirs: [] }>()
</script>

<template>
  <section class="warning-notice" role="alert">
    <h2>Somebody saved this {{ what }} while you were changing it</h2>
    <p class="mb-2">Nothing of yours is lost. Compare, then save yours over it or start again from theirs.</p>
    <table>
      <thead>
        <tr>
          <th scope="col">Field</th>
          <th scope="col">Saved meanwhile</th>
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
    <VBtn class="mt-2" @click="$emit('theirs')">Start again from theirs</VBtn>
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
