<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { copyAddress } from '~/composables/copy-address'

const route = useRoute()
const store = useLinkStore()
const register = useRegisterStore()
const session = useSessionStore()
const id = computed(() => Number(route.params.id))
const problem = ref('')
const editing = ref(false)
const wasEdited = ref(false)
const renaming = ref(false)
const editor = ref<{ focus(): void }>()
watch(editing, (open) => (wasEdited.value ||= open))
watch(
  id,
  async (now) => {
    problem.value = ''
    if (!Number.isSafeInteger(now)) return void (problem.value = 'There is no link with this number.')
    await store.read(now).catch((error: Error) => (problem.value = error.message))
  },
  { immediate: true },
)
const link = computed(() => (store.link?.id === id.value ? store.link : undefined))
const mayEdit = computed(() => session.may('editor') && link.value?.forwardsTo === null)
useHead({ title: () => `${link.value?.address ?? 'Link'} · Fides` })

const TABS = computed(() => [
  { name: 'settings', title: 'Settings', count: undefined },
  { name: 'placements', title: 'Placements', count: link.value?.placements?.length },
  { name: 'checks', title: 'Checks', count: undefined },
  { name: 'history', title: 'History', count: undefined },
])
const tab = computed(() =>
  TABS.value.some(({ name }) => name === route.query.tab) ? String(route.query.tab) : 'settings',
)
/** Its place in the register as it was left. */
const place = computed(() => register.items.findIndex((item) => item.id === id.value))
const go = (by: number) => {
  const next = register.items[place.value + by]
  if (place.value >= 0 && next) return navigateTo({ path: `/links/${next.id}`, query: route.query })
}
useShortcuts({
  e: () => (mayEdit.value ? editor.value?.focus() : undefined),
  c: () => link.value && copyAddress(link.value),
  t: () => link.value && navigateTo({ path: '/trace', query: { address: link.value.address } }),
  j: () => go(1),
  k: () => go(-1),
})
</script>

<template>
  <div class="page">
    <p class="crumb soft">
      ‹ <NuxtLink :to="register.left.path">Register</NuxtLink
      ><template v-if="place >= 0"> · {{ place + 1 }} of {{ register.items.length }} shown</template>
    </p>
    <VAlert v-if="problem" type="error" class="ma-4">{{ problem }}</VAlert>
    <div v-else-if="!link" class="skeleton" aria-hidden="true">
      <div />
      <div />
      <div />
    </div>
    <article v-else class="columns" :aria-label="link.address">
      <div class="main">
        <LinkHeader :link="link" @edit="editing = true" @rename="renaming = true" />
        <div v-if="link.waiting" class="banner warning">
          <StateMark state="doubtful" /> {{ link.domain }} is not open yet. The link works once it is.
        </div>
        <div v-if="link.forwardsTo !== null" class="banner">
          <StateMark state="idle" /> A further slug of <NuxtLink :to="`/links/${link.forwardsTo}`">its link</NuxtLink>.
        </div>
        <div v-if="link.exception" class="banner"><StateMark state="doubtful" /> An exception to the slug rules.</div>
        <DestinationEditor v-if="mayEdit" ref="editor" :key="link.id" :link="link" />
        <p v-else class="destination">
          <RedirectChip :status="link.status" words /> <LongAddress :address="link.destination" wrap />
        </p>
        <nav class="tabs" aria-label="Parts of this link">
          <NuxtLink
            v-for="{ name, title, count } in TABS"
            :key="name"
            :to="{ query: { ...route.query, tab: name === 'settings' ? undefined : name } }"
            replace
            class="tab"
            :class="{ on: tab === name }"
            :aria-current="tab === name || undefined"
            >{{ title }}<template v-if="count">&nbsp;{{ count }}</template></NuxtLink
          >
        </nav>
        <template v-if="tab === 'settings'">
          <LinkSettings :link="link" @edit="editing = true" />
          <AliasList v-if="link.forwardsTo === null" :key="link.id" :link="link" />
          <LinkDays v-if="link.forwardsTo === null" :key="`dates ${link.id}`" :link="link" />
        </template>
        <PlacementList v-else-if="tab === 'placements' && link.forwardsTo === null" :key="link.id" :link="link" />
        <template v-else-if="tab === 'checks'">
          <LazyLinkHolders :key="`${link.id} ${link.version}`" :link="link" />
          <LinkChecks :link="link" :history="store.history" />
        </template>
        <LinkHistory v-else :entries="store.history" />
      </div>
      <aside class="side">
        <div class="visits"><LazyLinkTraffic :link="link" /></div>
        <section v-if="link.placements?.length && tab !== 'placements'" aria-label="Placements in short" class="part">
          <header class="part-head">
            <h2>Placements</h2>
            <NuxtLink :to="{ query: { ...route.query, tab: 'placements' } }">All placements</NuxtLink>
          </header>
          <ul class="ruled-list">
            <li v-for="item in link.placements.slice(0, 4)" :key="item.id" class="item">
              <b>{{ item.medium }}</b><template v-if="item.place">, {{ item.place }}</template>
              <span class="soft"
                ><template v-if="item.copies">{{ item.copies.toLocaleString('en') }} copies · </template
                >{{ item.changeable ? 'can be changed' : 'cannot be changed' }}</span
              >
            </li>
          </ul>
        </section>
        <section v-if="tab !== 'history'" aria-label="Recent changes" class="part">
          <header class="part-head">
            <h2>Recent changes</h2>
            <NuxtLink :to="{ query: { ...route.query, tab: 'history' } }">All changes</NuxtLink>
          </header>
          <LedgerRow v-for="entry in store.history.slice(0, 3)" :key="entry.id" :entry="entry" narrow />
        </section>
      </aside>
      <LazyRenameDialog v-if="renaming" :key="link.id" v-model="renaming" :link="link" />
      <LazyLinkDialog v-if="wasEdited" v-model="editing" :link="link" />
    </article>
  </div>
</template>

<style scoped>
.page {
  max-width: 1920px;
  padding: 10px 20px 40px;
}
.crumb {
  margin-bottom: 4px;
  font-size: 13px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.8fr) minmax(0, 1fr);
  gap: 28px;
  align-items: start;
}
.main {
  display: flex;
  flex-direction: column;
  gap: 14px;
  min-width: 0;
}
/* As high as most figures are: what stands below must not jump when they arrive. */
.visits {
  min-height: 445px;
}
.destination {
  overflow-wrap: anywhere;
}
.banner {
  padding: 8px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
}
.banner.warning {
  border-color: rgb(var(--v-theme-warning));
  background: rgb(var(--v-theme-tint-warning));
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 0 22px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.tab {
  padding: 8px 0;
  border-bottom: 3px solid transparent;
  color: rgb(var(--v-theme-soft));
  font-weight: 600;
  text-decoration: none;
}
.tab.on {
  border-bottom-color: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-primary));
}
.part-head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  padding: 14px 0 4px;
}
.item {
  padding: 7px 0;
}
.item > .soft {
  display: block;
  font-size: 13px;
}
.side :deep(.traffic) {
  padding: 0;
}
.skeleton > div {
  height: 44px;
  margin: 10px 0;
  background: rgb(var(--v-theme-count));
}
@media (max-width: 1099px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 699px) {
  .page {
    padding: 8px 12px 24px;
  }
  .tab {
    min-height: 44px;
    padding-top: 12px;
  }
}
</style>
