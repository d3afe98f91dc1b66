<script setup lang="ts">
definePageMeta({ layout: 'plain' })
useHead({ title: 'Not found · Fides' })
const { path } = useRoute()
</script>

<template>
  <div class="nowhere">
    <h1>There is no page at this address</h1>
    <p>
      The desk has nothing at <code class="mono">{{ path }}</code>. To look for a short address, type it into the
      address line of any page.
    </p>
    <VBtn color="primary" variant="flat" to="/docket">Open the docket</VBtn>
  </div>
</template>

<style scoped>
.nowhere {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 16px;
}
code {
  overflow-wrap: anywhere;
}
</style>
