<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn, useNow } from '@vueuse/core'
import { computed, watch } from 'vue'
import { spreadWords, STANDING_WORDS } from '~/composables/domain-words'

const store = useDomainStore()
const session = useSessionStore()
const route = useRoute()
const id = computed(() => Number(route.params.id))
const now = useNow({ interval: 1000 })
const visibility = useDocumentVisibility()
watch(id, (wanted) => store.read(wanted), { immediate: true })
useIntervalFn(() => visibility.value === 'visible' && store.read(id.value), 3000)
useHead({ title: () => `${store.domain?.shown ?? 'Domain'} · Fides` })

const TABS = [
  ['records', 'Records'],
  ['slug-rules', 'Slug rules'],
  ['rules', 'Rules'],
  ['fallbacks', 'Fallbacks'],
  ['pages', 'Visitor pages'],
  ['certificate', 'Certificate'],
  ['renewal', 'Renewal'],
  ['old-paths', 'Old paths'],
] as const
const tab = computed(() => (TABS.some(([key]) => key === route.query.tab) ? (route.query.tab as string) : 'records'))
const standing = computed(() => store.domain && STANDING_WORDS[store.domain.standing])
const words = computed(() => {
  if (!store.domain || !standing.value) return ''
  const spreads = store.domain.standing === 'spreading' && store.forecast
  return spreads ? `${standing.value.word} — ${spreadWords(store.forecast!.resolvers)}` : standing.value.word
})
</script>

<template>
  <div class="page">
    <VAlert v-if="store.problem" type="error" variant="tonal" density="compact" class="mb-3">{{
      store.problem
    }}</VAlert>
    <template v-if="store.domain && store.domain.id === id">
      <header class="head">
        <h1 class="mono name">{{ store.domain.shown }}</h1>
        <b v-if="standing" :class="standing.mark === 'idle' ? 'soft' : `text-${standing.mark}`" role="status"
          ><StateMark :state="standing.mark" /> {{ words }}</b
        >
        <NuxtLink
          v-if="store.domain.cases"
          :to="{ path: '/docket', query: { domain: store.domain.id, lane: 'domains' } }"
          >{{ store.domain.cases }} {{ store.domain.cases === 1 ? 'case' : 'cases' }} on the docket</NuxtLink
        >
        <VSpacer />
        <nav aria-label="Of this domain" class="tabs">
          <NuxtLink
            v-for="[key, title] in TABS"
            :key="key"
            :to="{ query: { tab: key === 'records' ? undefined : key } }"
            :aria-current="tab === key ? 'page' : undefined"
            replace
            >{{ title }}</NuxtLink
          >
        </nav>
      </header>
      <DomainRecords v-if="tab === 'records'" :now="now.getTime()" />
      <LazySlugRulesForm v-else-if="tab === 'slug-rules'" :key="store.domain.id" :domain="store.domain" />
      <LazyRulesList v-else-if="tab === 'rules'" :key="store.domain.id" :domain="store.domain" />
      <FallbacksForm v-else-if="tab === 'fallbacks'" :domain="store.domain" />
      <LazyPagesForm v-else-if="tab === 'pages'" :key="store.domain.id" :domain="store.domain" />
      <CertificateView v-else-if="tab === 'certificate'" :domain="store.domain" />
      <RenewalForm v-else-if="tab === 'renewal'" :domain="store.domain" />
      <OldPathsForm v-else-if="session.may('editor')" :domain="store.domain" />
    </template>
  </div>
</template>

<style scoped>
.page {
  min-height: calc(100dvh - var(--fides-bars));
  padding: 12px 20px 32px;
  background: rgb(var(--v-theme-surface));
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 16px;
  margin-bottom: 14px;
}
.name {
  font-size: 21px;
  overflow-wrap: anywhere;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.tabs a {
  padding: 2px 0;
  color: rgb(var(--v-theme-soft));
  text-decoration: none;
}
.tabs a[aria-current] {
  color: rgb(var(--v-theme-on-surface));
  font-weight: 700;
  box-shadow: 0 2px 0 rgb(var(--v-theme-primary));
}
@media (max-width: 700px) {
  .page {
    padding: 12px 12px 24px;
  }
}
</style>
