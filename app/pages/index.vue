<script setup lang="ts">
definePageMeta({ redirect: '/register' })
</script>

<template><div /></template>
