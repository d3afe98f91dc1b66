<script setup lang="ts">
import { useEventListener, watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import type { Link } from '~~/core/schemas'
import { useLive } from '~/composables/useLive'
import type { RegisterFilters } from '~/stores/register'

useHead({ title: 'Register · Fides' })
const register = useRegisterStore()
const current = useLinkStore()
const session = useSessionStore()
const route = useRoute()
const { mobile, width } = useDisplay()
const filtersOpen = ref(false)
const editing = ref(false)

const NAMES = ['q', 'domain', 'standing', 'redirect', 'target', 'tag', 'sort'] as const
const filters = computed((): RegisterFilters =>
  Object.fromEntries(NAMES.map((name) => [name, route.query[name] || undefined])),
)
const narrowed = computed(() => NAMES.some((name) => name !== 'sort' && filters.value[name]))
// Ahead of the address for a moment, so that keys pressed quickly each count.
const selected = ref<number>()
const linkInRoute = computed(() => Number(route.query.link) || undefined)
// What we wrote into the address ourselves must not, arriving late, undo a later choice.
const written = new Set<number | undefined>()
watch(linkInRoute, (id) => written.delete(id) || (selected.value = id), { immediate: true })
watchDebounced(
  selected,
  (id) => {
    if (id === linkInRoute.value) return
    written.add(id)
    return navigateTo({ query: { ...route.query, link: id } }, { replace: true })
  },
  { debounce: 120 },
)
const hasPane = computed(() => width.value >= 1100)

watch(filters, (now, before) => JSON.stringify(now) !== JSON.stringify(before) && register.list(now), {
  immediate: true,
})
watchDebounced(selected, (id) => id && hasPane.value && current.read(id).catch(() => undefined), {
  immediate: true,
  debounce: 60,
})
// Visits and others’ changes come into the rows as they happen.
let revision = 0
useLive((told) => {
  register.visited(told.links)
  if (revision !== 0 && told.revision !== revision) void register.refreshShown()
  revision = told.revision
})
// Somebody else may have saved meanwhile: come back, see it.
useEventListener('focus', () => register.items.length <= 50 && register.list(filters.value))

const choose = (name: keyof RegisterFilters, value: string | undefined) =>
  navigateTo({ query: { ...route.query, [name]: value || undefined, link: undefined } })
const clear = () => navigateTo({ query: { sort: filters.value.sort } })
const open = (link: Link) => navigateTo(`/links/${link.id}`)
function select(link: Link) {
  if (!hasPane.value) return open(link)
  selected.value = link.id
}

function step(by: number) {
  const at = register.items.findIndex((link) => link.id === selected.value)
  const link = register.items[at === -1 ? 0 : Math.min(register.items.length - 1, Math.max(0, at + by))]
  if (link) select(link)
  if (at + by >= register.items.length - 5) void register.more()
}
const picked = ref<ReadonlySet<number>>(new Set())
function pick(link: Link) {
  const next = new Set(picked.value)
  if (!next.delete(link.id)) next.add(link.id)
  picked.value = next
}
/** Where the links picked, or else all that are shown, are changed together. */
const changeMany = computed(() => {
  const { sort: _sort, ...shown } = filters.value
  return { path: '/changes/new', query: picked.value.size > 0 ? { links: [...picked.value].join(',') } : shown }
})
/** Where the links picked are taken out as a file. */
const takeOut = computed(() => {
  const first = register.items.find((link) => picked.value.has(link.id))
  return { path: '/exchange', query: { links: [...picked.value].join(','), domain: first?.domain } }
})
const inHand = () => register.items.find((link) => link.id === selected.value)
useShortcuts({
  j: () => step(1),
  k: () => step(-1),
  Enter: () => inHand() && open(inHand()!),
  e: () => current.link && (editing.value = true),
  x: () => inHand() && session.may('editor') && pick(inHand()!),
  t: () => inHand() && navigateTo({ path: '/trace', query: { address: inHand()!.address } }),
})

const search = ref(filters.value.q ?? '')
watch(
  () => filters.value.q,
  (q) => (search.value = q ?? ''),
)
let searchTimer: ReturnType<typeof setTimeout> | undefined
function searchSoon() {
  clearTimeout(searchTimer)
  searchTimer = setTimeout(() => choose('q', search.value.trim()), 200)
}
const SORTS = [
  { value: 'visits', title: 'Most visits' },
  { value: 'changed', title: 'Last changed' },
  { value: 'made', title: 'Newest' },
  { value: 'address', title: 'Address' },
  { value: 'target', title: 'Worst target' },
]
const summary = computed(() =>
  register.counts
    ? `${register.counts.total.toLocaleString('en')} ${register.counts.total === 1 ? 'link' : 'links'}`
    : '',
)
</script>

<template>
  <div class="page">
    <VNavigationDrawer
      :model-value="mobile ? filtersOpen : true"
      :permanent="!mobile"
      :temporary="mobile"
      width="178"
      aria-label="Filters"
      @update:model-value="filtersOpen = $event"
    >
      <RegisterFilters :counts="register.counts" :filters="filters" @choose="choose" />
    </VNavigationDrawer>

    <section class="list" aria-labelledby="register-title">
      <header class="head">
        <h1 id="register-title">Register</h1>
        <span class="soft summary" role="status">{{ summary }}</span>
        <VSpacer />
        <VTextField
          v-model="search"
          class="search"
          label="Search links"
          clearable
          density="compact"
          maxlength="300"
          @update:model-value="searchSoon"
          @keydown.enter="choose('q', search.trim())"
        />
        <VSelect
          class="sort"
          :model-value="filters.sort ?? 'visits'"
          :items="SORTS"
          label="Order"
          @update:model-value="choose('sort', $event)"
        />
        <CheckMenu
          :picked="picked"
          :domain="filters.domain"
          @done="register.list(filters)"
          @clear="picked = new Set()"
        />
        <VBtn v-if="session.may('editor')" :to="changeMany">{{
          picked.size > 0 ? `Change ${picked.size}…` : 'Change many…'
        }}</VBtn>
        <VBtn v-if="picked.size > 0" :to="takeOut">Take {{ picked.size }} out…</VBtn>
        <VBtn v-if="mobile" @click="filtersOpen = !filtersOpen">Filters</VBtn>
        <VBtn v-if="narrowed" variant="text" @click="clear">Clear filters</VBtn>
      </header>
      <CheckBar class="mx-3 mb-1" />
      <VAlert v-if="register.problem" type="error" variant="tonal" density="compact" class="ma-3">
        {{ register.problem }} <VBtn variant="text" @click="register.list(filters)">Try again</VBtn>
      </VAlert>
      <div class="rows">
        <EmptyRegister
          v-if="register.counts && register.items.length === 0 && !register.loading"
          :narrowed="narrowed"
          @clear="clear"
        />
        <RegisterRows
          v-else
          :links="register.items"
          :selected="selected"
          :picked="picked"
          :next="register.next"
          :loading="register.loading"
          @select="select"
          @open="open"
          @more="register.more()"
          @pick="pick"
        />
      </div>
    </section>

    <VNavigationDrawer v-if="hasPane" location="right" permanent width="356" aria-label="Link">
      <LinkInspector
        v-if="selected && current.link?.id === selected"
        v-model:editing="editing"
        :link="current.link"
        :history="current.history"
      />
      <p v-else class="soft pa-6">Choose a link to see where it leads, what happened to it and how it is used.</p>
    </VNavigationDrawer>
  </div>
</template>

<style scoped>
.page {
  height: calc(100dvh - 90px);
}
.list {
  display: flex;
  flex-direction: column;
  height: 100%;
  background: rgb(var(--v-theme-surface));
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 8px 14px;
}
.summary {
  min-width: 66px;
}
.search {
  flex: 1 1 110px;
  max-width: 220px;
}
.sort {
  flex: 0 0 132px;
}
.rows {
  flex: 1 1 0;
  min-height: 0;
}
</style>
