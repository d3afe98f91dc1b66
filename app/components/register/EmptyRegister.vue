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
      <h2 class="mb-2">No links match these filters</h2>
      <p class="mb-4">Remove a filter, or search for fewer words.</p>
      <VBtn @click="$emit('clear')">Clear filters</VBtn>
    </template>
    <template v-else-if="domains.domains.length === 0">
      <h2 class="mb-2">Add a domain first</h2>
      <p class="mb-4">Short addresses need a domain. Add one, then create the first link.</p>
      <VBtn v-if="session.may('administrator')" to="/domains">Add a domain</VBtn>
    </template>
    <template v-else>
      <h2 class="mb-2">No links yet</h2>
      <p class="mb-4">Paste a destination into the address line at the top, or start here.</p>
      <VBtn v-if="session.may('editor')" color="primary" variant="flat" @click="newLink.start()">New link</VBtn>
    </template>
  </div>
</template>
