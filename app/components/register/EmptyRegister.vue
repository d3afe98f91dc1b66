<script setup lang="ts">
defineProps<{ narrowed: boolean }>()
defineEmits<{ clear: [] }>()
const newLink = useNewLink()
const session = useSessionStore()
const domains = useDomainsStore()
</script>

<template>
  <div class="pa-8">
    <template v-if="narrowed">
      <h2 class="mb-2">No link fits these filters</h2>
      <p class="mb-4">Take a filter off, or search for fewer words.</p>
      <VBtn @click="$emit('clear')">Clear all filters</VBtn>
    </template>
    <template v-else-if="domains.domains.length === 0">
      <h2 class="mb-2">First, a domain</h2>
      <p class="mb-4">Short addresses live on a domain of your own. Add it, then make the first link.</p>
      <VBtn v-if="session.may('administrator')" to="/domains">Add a domain</VBtn>
    </template>
    <template v-else>
      <h2 class="mb-2">No links yet</h2>
      <p class="mb-4">Paste a long address into the line at the top, or start here.</p>
      <VBtn v-if="session.may('editor')" color="primary" variant="flat" @click="newLink.start()">New link</VBtn>
    </template>
  </div>
</template>
