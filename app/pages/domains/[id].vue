<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn, useNow } from '@vueuse/core'
import { computed, watch } from 'vue'
import { SECTION_WORDS } from '~/composables/domain-section-words'

const store = useDomainStore()
const session = useSessionStore()
const route = useRoute()
const id = computed(() => Number(route.params.id))
const now = useNow({ interval: 1000 })
const visibility = useDocumentVisibility()
watch(id, (wanted) => store.read(wanted), { immediate: true })
useIntervalFn(() => visibility.value === 'visible' && store.read(id.value), 3000)
useHead({ title: () => `${store.domain?.shown ?? 'Domain'} · Fides` })

const tab = computed(() =>
  SECTION_WORDS.some(([key]) => key === route.query.tab) ? (route.query.tab as string) : 'records',
)
// What the sections say changes with what is saved in them.
watch([id, tab, () => store.domain?.version], () => store.readSections(id.value).catch(() => undefined), {
  immediate: true,
})
</script>

<template>
  <div class="page">
    <VAlert v-if="store.problem" type="error" variant="tonal" density="compact" class="mb-3">{{
      store.problem
    }}</VAlert>
    <template v-if="store.domain && store.domain.id === id">
      <DomainRail :domain="store.domain" :section="tab" class="side" />
      <div class="main">
        <DomainRecords v-if="tab === 'records'" :now="now.getTime()" />
        <LazySlugRulesForm v-else-if="tab === 'slug-rules'" :key="store.domain.id" :domain="store.domain" />
        <LazyRulesList v-else-if="tab === 'rules'" :key="store.domain.id" :domain="store.domain" />
        <FallbacksForm v-else-if="tab === 'fallbacks'" :domain="store.domain" />
        <LazyPagesForm v-else-if="tab === 'pages'" :key="store.domain.id" :domain="store.domain" />
        <CertificateView v-else-if="tab === 'certificate'" :domain="store.domain" />
        <RenewalForm v-else-if="tab === 'renewal'" :domain="store.domain" />
        <OldPathsForm v-else-if="session.may('editor')" :domain="store.domain" />
        <p v-else class="soft">Only editors and administrators may read old paths.</p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  align-items: start;
  min-height: calc(100dvh - var(--fides-bars));
  background: rgb(var(--v-theme-surface));
}
.page > .v-alert {
  grid-column: 1 / -1;
}
.side {
  position: sticky;
  top: var(--fides-bars);
  padding: 16px 20px;
}
.main {
  min-width: 0;
  min-height: calc(100dvh - var(--fides-bars));
  padding: 16px 24px 32px;
  border-left: 1px solid rgb(var(--v-theme-rule));
}
@media (max-width: 1000px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    position: static;
  }
  .main {
    min-height: 0;
    border-left: 0;
  }
}
@media (max-width: 700px) {
  .side {
    padding: 12px;
  }
  .main {
    padding: 4px 12px 24px;
  }
}
</style>
