<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useDisplay } from 'vuetify'
import { copyAddress } from '~/composables/copy-address'
import { useLive } from '~/composables/useLive'
import { useRegisterView } from '~/composables/useRegisterView'
import { useScreen } from '~/composables/useScreen'

useHead({ title: 'Register · Fides' })
const register = useRegisterStore()
const current = useLinkStore()
const session = useSessionStore()
const { mobile } = useDisplay()
const { isPhone } = useScreen()
const filtersOpen = ref(false)
const editing = ref(false)
const list = ref<HTMLElement>()
const { filters, narrowed, choose, view, selected, inHand, inspecting, isInspected, open, select, step, pick } =
  useRegisterView(list)

// Visits and others’ changes come into the rows as they happen.
let revision = 0
useLive((told) => {
  register.visited(told.links)
  if (revision !== 0 && told.revision !== revision) void register.refreshShown()
  revision = told.revision
})
// Somebody else may have saved meanwhile: come back, see it.
useEventListener('focus', () => register.items.length <= 50 && register.list(filters.value))

useShortcuts({
  j: () => step(1),
  k: () => step(-1),
  Enter: () => inHand() && open(inHand()!),
  e: () => current.link && (editing.value = true),
  ' ': () => (inspecting.value = !inspecting.value),
  c: () => inHand() && copyAddress(inHand()!),
  x: () => inHand() && session.may('editor') && pick(inHand()!),
  t: () => inHand() && navigateTo({ path: '/trace', query: { address: inHand()!.address } }),
})
</script>

<template>
  <div class="page">
    <VNavigationDrawer
      :model-value="mobile ? filtersOpen : true"
      :permanent="!mobile"
      :temporary="mobile"
      width="190"
      aria-label="Filters"
      @update:model-value="filtersOpen = $event"
    >
      <RegisterFilters
        :counts="register.counts"
        :overall="register.overall"
        :filters="filters"
        @choose="choose"
        @view="((filtersOpen = false), view($event))"
      />
    </VNavigationDrawer>

    <section ref="list" class="list" aria-labelledby="register-title">
      <RegisterHead
        :filters="filters"
        :narrowed="narrowed"
        @choose="choose"
        @clear="view({})"
        @filter="filtersOpen = !filtersOpen"
      />
      <CheckBar class="mx-3 mb-1" />
      <VAlert v-if="register.problem" type="error" class="ma-3">
        {{ register.problem }} <VBtn variant="text" @click="register.list(filters)">Try again</VBtn>
      </VAlert>
      <div class="rows" :class="{ few: register.similar.length > 0 }">
        <EmptyRegister
          v-if="register.counts && register.items.length === 0 && !register.loading"
          :narrowed="narrowed"
          @clear="view({})"
        />
        <div v-else-if="register.items.length === 0" class="skeleton" aria-hidden="true">
          <div v-for="row in 12" :key="row" />
        </div>
        <div v-else-if="isPhone" class="scroll">
          <RegisterList
            :links="register.items"
            :next="register.next"
            :loading="register.loading"
            @more="register.more()"
          />
        </div>
        <RegisterRows
          v-else
          :links="register.items"
          :selected="selected"
          :picked="register.picked"
          :next="register.next"
          :loading="register.loading"
          @select="select"
          @open="open"
          @more="register.more()"
          @pick="pick"
        />
      </div>
      <SimilarLinks v-if="register.similar.length > 0" :links="register.similar" />
    </section>

    <VNavigationDrawer v-if="isInspected" location="right" permanent width="356" aria-label="Link">
      <div class="close">
        <span class="soft">Space shows or hides this</span>
        <VBtn variant="text" size="small" @click="inspecting = false">Close</VBtn>
      </div>
      <LinkInspector
        v-if="current.link?.id === selected"
        v-model:editing="editing"
        :link="current.link!"
        :history="current.history"
      />
    </VNavigationDrawer>
  </div>
</template>

<style scoped>
.page {
  height: calc(100dvh - var(--fides-bars));
}
.list {
  display: flex;
  flex-direction: column;
  height: 100%;
  background: rgb(var(--v-theme-surface));
  container: list / inline-size;
}
.rows {
  flex: 1 1 0;
  min-height: 0;
}
/* Similar links follow directly below. */
.rows.few {
  flex: 0 1 auto;
}
.rows > .scroll {
  height: 100%;
  overflow-y: auto;
}
.close {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 8px 12px 0 16px;
  font-size: 12px;
}
.skeleton > div {
  height: 38px;
  margin: 0 14px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  background: linear-gradient(rgb(var(--v-theme-count)) 0 0) 0 50% / 60% 12px no-repeat;
}
</style>
