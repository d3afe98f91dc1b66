<script setup lang="ts">
definePageMeta({ redirect: '/docket' })
</script>

<template><div /></template>
