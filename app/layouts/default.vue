<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

const session = useSessionStore()
const domains = useDomainsStore()
const newLink = useNewLink()
const listOpen = ref(false)
const line = ref<{ focus(): void }>()

onMounted(() => domains.load())

const mayEdit = computed(() => session.may('editor'))
useShortcuts(
  { '/': () => line.value?.focus(), n: () => mayEdit.value && newLink.start(), '?': () => (listOpen.value = true) },
  {
    d: () => navigateTo('/docket'),
    r: () => navigateTo('/register'),
    o: () => navigateTo('/domains'),
    t: () => navigateTo('/traffic'),
    x: () => navigateTo('/exchange'),
    l: () => navigateTo('/ledger'),
  },
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
        <VSpacer class="d-none d-sm-block" />
        <VBtn v-if="mayEdit" class="new" color="surface" variant="flat" height="36" @click="newLink.start()">
          New link <kbd class="mono key">n</kbd>
        </VBtn>
        <PersonMenu @shortcuts="listOpen = true" />
      </div>
    </VAppBar>
    <VAppBar flat height="38" color="surface" border="b" tag="nav" aria-label="Sections">
      <TabBar />
    </VAppBar>
    <VMain id="main" tabindex="-1">
      <StaleNotice />
      <slot />
    </VMain>
    <LazyLinkDialog v-if="newLink.used.value" v-model="newLink.open.value" :given="newLink.given.value" />
    <ShortcutList v-model="listOpen" />
    <SignInAgain />
    <ConfirmIdentity />
  </div>
</template>

<style scoped>
/* The address line's choices hang below the band. */
.band-bar,
.band-bar :deep(.v-toolbar__content) {
  overflow: visible;
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
.key {
  margin-left: 8px;
  color: rgb(var(--v-theme-soft));
}
@media (max-width: 900px) {
  .organisation,
  .key {
    display: none;
  }
  .band {
    gap: 8px;
    padding: 0 8px;
  }
}
</style>
