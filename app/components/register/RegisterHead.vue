<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import { pasteOnOneLine } from '~/composables/paste-on-one-line'
import { useScreen } from '~/composables/useScreen'
import type { RegisterFilters } from '~~/core/schemas'

/** The head of the register: search, order, and acts on the selected links. */
const { filters, narrowed } = defineProps<{ filters: RegisterFilters; narrowed: boolean }>()
const emit = defineEmits<{
  choose: [name: keyof RegisterFilters, value: string | undefined]
  clear: []
  filter: []
}>()
const register = useRegisterStore()
const session = useSessionStore()
const { mobile } = useDisplay()
const { isPhone } = useScreen()
const picked = computed(() => register.picked)

/** The page that changes the selected links, or else all that the filters leave. */
const changeMany = computed(() => {
  const { sort: _sort, ...shown } = filters
  return { path: '/changes/new', query: picked.value.size > 0 ? { links: [...picked.value].join(',') } : shown }
})
/** The page that exports the selected links. */
const takeOut = computed(() => {
  const first = register.items.find((link) => picked.value.has(link.id))
  return { path: '/exchange', query: { links: [...picked.value].join(','), domain: first?.domain } }
})

const search = ref(filters.q ?? '')
watch(
  () => filters.q,
  (q) => (search.value = q ?? ''),
)
let searchTimer: ReturnType<typeof setTimeout> | undefined
function searchSoon() {
  clearTimeout(searchTimer)
  searchTimer = setTimeout(() => emit('choose', 'q', (search.value ?? '').trim()), 200)
}
const SORTS = [
  { value: 'visits', title: 'Most visits' },
  { value: 'changed', title: 'Last changed' },
  { value: 'made', title: 'Newest' },
  { value: 'address', title: 'Address' },
  { value: 'target', title: 'Worst destination' },
]
const summary = computed(() =>
  register.counts
    ? `${register.counts.total.toLocaleString('en')} ${register.counts.total === 1 ? 'link' : 'links'}`
    : '',
)
</script>

<template>
  <header class="head">
    <h1 id="register-title">Register</h1>
    <span class="soft summary" role="status">{{ summary }}</span>
    <VSpacer />
    <VTextField
      v-model="search"
      class="search mono"
      aria-label="Search links"
      placeholder="Search, or paste an address"
      single-line
      clearable
      maxlength="4000"
      @update:model-value="searchSoon"
      @keydown.enter="emit('choose', 'q', (search ?? '').trim())"
      @paste="pasteOnOneLine"
    />
    <VSelect
      class="sort"
      :model-value="filters.sort ?? 'visits'"
      :items="SORTS"
      aria-label="Order"
      single-line
      @update:model-value="emit('choose', 'sort', $event)"
    />
    <VBtn v-if="mobile" @click="emit('filter')">Filter</VBtn>
    <CheckMenu
      v-if="!isPhone"
      :picked="picked"
      :domain="filters.domain"
      @done="register.list(filters)"
      @clear="register.picked = new Set()"
    />
    <VBtn v-if="session.may('editor') && !isPhone" :to="changeMany">{{
      picked.size > 0 ? `Change ${picked.size}…` : 'Change links…'
    }}</VBtn>
    <VBtn v-if="picked.size > 0" :to="takeOut">Export {{ picked.size }}…</VBtn>
    <VBtn v-if="narrowed && register.items.length > 0" variant="text" @click="emit('clear')">Clear filters</VBtn>
  </header>
</template>

<style scoped>
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
  flex: 1 1 160px;
  max-width: 300px;
}
.sort {
  flex: 0 0 160px;
}
@media (max-width: 699px) {
  .search {
    flex: 1 1 100%;
    max-width: none;
  }
}
</style>
