<script setup lang="ts">
import { computed, watch } from 'vue'
import { useThingTraffic } from '~/composables/useThingTraffic'

/** All links of a tag or an owner together, with their sums. */
const route = useRoute()
const tag = computed(() => (route.query.tag as string | undefined) || undefined)
const owner = computed(() => (route.query.owner as string | undefined) || undefined)
const name = computed(() => tag.value ?? owner.value ?? '')
useHead({ title: () => `${name.value || 'Tags'} · Fides` })
const { told, problem, load } = useThingTraffic()
const of = computed((): Record<string, string> => (tag.value ? { tag: tag.value } : { owner: owner.value ?? '' }))
watch(of, (now) => name.value && load(now, 28, 'link'), { immediate: true })
</script>

<template>
  <div class="page">
    <VBtn variant="text" class="px-1" to="/register">‹ Register</VBtn>
    <header class="head">
      <h1>{{ tag ? 'Tag' : 'Owner' }} {{ name }}</h1>
      <NuxtLink :to="{ path: '/register', query: tag ? { tag } : { q: owner } }">The links in the register</NuxtLink>
      <NuxtLink :to="{ path: '/traffic', query: { ...of, by: 'link' } }">In Traffic</NuxtLink>
      <NuxtLink :to="{ path: '/docket', query: of }">Cases</NuxtLink>
    </header>
    <p v-if="name === ''" class="soft">Open a tag or an owner from a link.</p>
    <p v-if="problem" class="text-error" role="alert">{{ problem }}</p>
    <template v-if="told">
      <p role="status">
        <b>{{ told.total.toLocaleString('en') }} visits</b>
        <template v-if="told.people !== null"> by {{ told.people.toLocaleString('en') }} people</template> in 28
        days<span v-if="told.compared" class="soft"
          >; {{ told.compared.total.toLocaleString('en') }} in the previous period</span
        >
      </p>
      <TrendChart :told="told" :height="180" />
      <GroupTable :told="told" by="link" @narrow="navigateTo(`/links/${$event}`)" />
    </template>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 1100px;
  padding: 8px 20px 40px;
}
.page > .v-btn {
  align-self: flex-start;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
}
</style>
