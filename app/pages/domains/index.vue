<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useScreen } from '~/composables/useScreen'
import { STANDING_WORDS } from '~/composables/domain-words'
import { isOpenStanding } from '~~/core/schemas'

useHead({ title: 'Domains · Fides' })
const domains = useDomainsStore()
const session = useSessionStore()
const { short, day } = useMoments()
const adding = ref(false)
const used = ref(false)
const search = ref('')
const page = ref(1)
const visibility = useDocumentVisibility()
void domains.load()
useIntervalFn(() => visibility.value === 'visible' && domains.load(), 5000)
const shown = computed(() =>
  domains.domains.filter((domain) => domain.shown.includes((search.value ?? '').trim().toLowerCase())),
)
const { isPhone } = useScreen()
const HEADERS = [
  { title: 'Domain', key: 'shown' },
  { title: 'Standing', key: 'standing' },
  { title: 'Next', key: 'next', sortable: false },
  { title: 'Links', key: 'links', align: 'end' },
  { title: 'Expires', key: 'expiresOn' },
] as const
const isToCome = (moment: string | null | undefined): moment is string => !!moment && Date.parse(moment) > Date.now()
function start() {
  used.value = true
  adding.value = true
}
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Domains</h1>
      <span class="soft">Standing, DNS and renewal of each domain.</span>
      <VSpacer />
      <VTextField v-if="domains.domains.length > 10" v-model="search" class="search" label="Find a domain" clearable />
      <VBtn v-if="session.may('administrator')" color="primary" variant="flat" @click="start">Add a domain</VBtn>
    </header>
    <VAlert v-if="domains.problem" type="error" variant="tonal" density="compact">{{ domains.problem }}</VAlert>
    <div v-else-if="domains.loaded && domains.domains.length === 0" class="py-6">
      <h2 class="mb-2">No domain yet</h2>
      <p class="soft">
        Use a spare domain, for example <span class="mono">ansl.example</span>, or a sub-domain beside your website,
        like <span class="mono">go.portansel.example</span>. Fides shows what each would change.
      </p>
    </div>
    <ul v-else-if="isPhone" class="list">
      <li v-for="item in shown" :key="item.id">
        <NuxtLink :to="`/domains/${item.id}`" class="row">
          <StateMark :state="STANDING_WORDS[item.standing].mark" />
          <b class="mono name">{{ item.shown }}</b>
          <span class="number"
            >{{ (item.links ?? 0).toLocaleString('en') }}<span class="visually-hidden"> links</span></span
          >
          <span class="soft second"
            >{{ STANDING_WORDS[item.standing].word }}<template v-if="item.next"> · {{ item.next }}</template></span
          >
        </NuxtLink>
      </li>
    </ul>
    <VDataTable
      v-else
      v-model:page="page"
      :headers="HEADERS"
      :items="shown"
      :items-per-page="25"
      :hide-default-footer="shown.length <= 25"
      density="comfortable"
      class="table"
      :mobile="false"
    >
      <template #[`item.shown`]="{ item }"
        ><NuxtLink :to="`/domains/${item.id}`" class="mono name">{{ item.shown }}</NuxtLink></template
      >
      <template #[`item.standing`]="{ item }"
        ><span class="standing"
          ><StateMark :state="STANDING_WORDS[item.standing].mark" /> {{ STANDING_WORDS[item.standing].word }}</span
        ></template
      >
      <template #[`item.next`]="{ item }">
        <NuxtLink v-if="item.cases" :to="{ path: '/docket', query: { domain: item.id, lane: 'domains' } }">{{
          item.next
        }}</NuxtLink>
        <template v-else
          >{{ item.next || '—'
          }}<span v-if="item.standing === 'spreading' && isToCome(item.everyoneBy)" class="soft"
            >, at the latest {{ short(item.everyoneBy) }}</span
          ></template
        >
      </template>
      <template #[`item.links`]="{ item }"
        >{{ (item.links ?? 0).toLocaleString('en')
        }}<span v-if="!isOpenStanding(item.standing) && item.links" class="soft"> waiting</span></template
      >
      <template #[`item.expiresOn`]="{ item }">{{ item.expiresOn ? day(item.expiresOn) : '—' }}</template>
    </VDataTable>
    <AddDomainDialog v-if="used" v-model="adding" />
  </div>
</template>

<style scoped>
.page {
  max-width: 1920px;
  min-height: calc(100dvh - var(--fides-bars));
  padding: 10px 20px 24px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  margin-bottom: 10px;
}
.search {
  flex: 0 1 220px;
}
.table {
  background: transparent;
}
.name {
  font-weight: 700;
  overflow-wrap: anywhere;
}
.standing {
  white-space: nowrap;
}
.list {
  padding: 0;
  list-style: none;
}
.row {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr) auto;
  gap: 2px 4px;
  align-items: baseline;
  min-height: 56px;
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  color: inherit;
  text-decoration: none;
}
.row .name {
  overflow-wrap: anywhere;
}
.second {
  grid-column: 2 / 4;
  font-size: 13px;
}
.number {
  font-variant-numeric: tabular-nums;
}
</style>
