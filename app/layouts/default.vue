<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import { SECTIONS, useSections } from '~/composables/sections'
import { useFocusKeeper } from '~/composables/useFocusKeeper'
import { useScreen } from '~/composables/useScreen'

const session = useSessionStore()
const domains = useDomainsStore()
const newLink = useNewLink()
const listOpen = ref(false)
const line = ref<{ focus(): void }>()
const { isPhone } = useScreen()
const { pathOf } = useSections()
useFocusKeeper()
const docket = useDocketStore()
const register = useRegisterStore()

// The numbers beside the sections.
const COUNT_MS = 15_000
const IDLE_MS = 1500
const loadCases = () => docket.loadTotal().catch(() => undefined)
const visibility = useDocumentVisibility()
useIntervalFn(() => visibility.value === 'visible' && loadCases(), COUNT_MS)
onMounted(() => {
  void domains.load()
  void loadCases()
  if (!register.overall) register.loadOverall().catch(() => undefined)
  // The form for a new link is loaded before its key is pressed: what is typed right after must not be lost.
  setTimeout(() => (newLink.used.value = true), IDLE_MS)
})

const mayEdit = computed(() => session.may('editor'))
useShortcuts(
  { '/': () => line.value?.focus(), n: () => mayEdit.value && newLink.start(), '?': () => (listOpen.value = true) },
  Object.fromEntries(SECTIONS.map((section) => [section.key, () => navigateTo(pathOf(section))])),
)
</script>

<template>
  <div class="shell">
    <a class="skip" href="#main">Skip to content</a>
    <VAppBar color="band" flat height="52" class="on-band band-bar" tag="header">
      <div class="band">
        <NuxtLink to="/docket" class="name"
          >Fides<span class="organisation">{{ session.session?.organisation.name }}</span></NuxtLink
        >
        <AddressLine ref="line" class="line" />
        <VSpacer v-if="!isPhone" />
        <button
          v-if="mayEdit"
          type="button"
          class="new"
          :aria-label="isPhone ? 'New link' : undefined"
          aria-keyshortcuts="n"
          @click="newLink.start()"
        >
          <template v-if="isPhone">+</template><template v-else>New link <kbd class="mono key">n</kbd></template>
        </button>
        <PersonMenu @shortcuts="listOpen = true" />
      </div>
    </VAppBar>
    <VAppBar v-if="!isPhone" flat height="38" color="surface" border="b" tag="nav" aria-label="Sections">
      <SectionTabs />
    </VAppBar>
    <VAppBar
      v-else
      location="bottom"
      flat
      height="56"
      color="surface"
      border="t"
      tag="nav"
      aria-label="Sections"
      class="section-bar"
    >
      <SectionBar />
    </VAppBar>
    <VMain id="main" tabindex="-1">
      <StaleNotice />
      <slot />
    </VMain>
    <LazyNewLinkDialog v-if="newLink.used.value" v-model="newLink.open.value" :given="newLink.given.value" />
    <CreatedBar />
    <ShortcutList v-model="listOpen" />
    <SignInAgain />
    <ConfirmIdentity />
  </div>
</template>

<style scoped>
/* The choices of the address line open below the band, more sections above the bar. */
.band-bar,
.section-bar,
.band-bar :deep(.v-toolbar__content),
.section-bar :deep(.v-toolbar__content) {
  overflow: visible;
}
#main:focus {
  outline: none;
}
.shell {
  display: contents;
}
.skip {
  position: fixed;
  top: -60px;
  left: 8px;
  z-index: 9999;
  padding: 8px 12px;
  background: rgb(var(--v-theme-surface));
  color: rgb(var(--v-theme-on-surface));
}
.skip:focus {
  top: 8px;
}
.band {
  display: flex;
  align-items: center;
  gap: 16px;
  width: 100%;
  padding: 0 16px;
}
.name {
  color: inherit;
  font-size: 19px;
  font-weight: 700;
  text-decoration: none;
  white-space: nowrap;
}
.organisation {
  margin-left: 8px;
  font-size: 14px;
  font-weight: 400;
  opacity: 0.86;
}
.line {
  flex: 1 1 660px;
  max-width: 660px;
  min-width: 0;
}
.new {
  flex: none;
  height: 36px;
  padding: 0 12px;
  border-radius: 2px;
  background: rgb(var(--v-theme-new-link));
  color: rgb(var(--v-theme-on-new-link));
  font-weight: 700;
}
.key {
  margin-left: 8px;
  font-weight: 400;
  font-size: 12px;
}
@media (max-width: 900px) {
  .organisation,
  .key {
    display: none;
  }
}
@media (max-width: 699px) {
  .band {
    gap: 8px;
    padding: 0 8px;
  }
  .name {
    display: none;
  }
  .new {
    width: 44px;
    height: 44px;
    padding: 0;
    font-size: 22px;
    line-height: 1;
  }
}
</style>
