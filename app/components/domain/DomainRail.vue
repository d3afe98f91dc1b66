<script setup lang="ts">
import { computed } from 'vue'
import { spreadWords, STANDING_WORDS } from '~/composables/domain-words'
import { SECTION_WORDS } from '~/composables/domain-section-words'
import type { Domain } from '~~/core/schemas'
import { counted } from '~~/core/text/counted'

/** The sections of a domain's page, each with its state; above them how it stands, and what to do next. */
const { domain, section } = defineProps<{ domain: Domain; section: string }>()
const store = useDomainStore()
const domains = useDomainsStore()
const { isPhone } = useScreen()
if (!domains.loaded) void domains.load()

const standing = computed(() => STANDING_WORDS[domain.standing])
const words = computed(() =>
  domain.standing === 'spreading' && store.forecast
    ? `${standing.value.word} — ${spreadWords(store.forecast.resolvers)}`
    : standing.value.word,
)
const others = computed(() => domains.domains.filter(({ id }) => id !== domain.id))
const sections = computed(() =>
  SECTION_WORDS.map(([key, title]) => {
    const told = store.sections.find((one) => one.section === key)
    return { key, title, text: told?.text ?? '', state: told?.state ?? 'idle' }
  }),
)
const current = computed(() => sections.value.find(({ key }) => key === section)!)
const docket = computed(() => ({ path: '/docket', query: { domain: domain.id, lane: 'domains' } }))
/** Where the next thing is done, as a link; undefined where that is further down on this page. */
const nextTo = computed(() =>
  domain.nextAt === 'docket' ? docket.value : section === 'records' ? undefined : { query: {} },
)
/** What is next stands in the plan, further down on the same page. */
function showPlan() {
  const plan = document.querySelector<HTMLElement>('[aria-current="step"]')
  plan?.scrollIntoView({ block: 'center' })
  plan?.querySelector<HTMLElement>('button')?.focus({ preventScroll: true })
}
const links = computed(() => counted(domain.links ?? 0, 'link'))
</script>

<template>
  <div class="rail">
    <header>
      <div class="name-line">
        <h1 class="mono name">{{ domain.shown }}</h1>
        <VMenu v-if="others.length > 0">
          <template #activator="{ props }">
            <button type="button" class="other" aria-label="Another domain" v-bind="props">▾</button>
          </template>
          <VList density="compact" max-height="420">
            <VListItem
              v-for="other in others"
              :key="other.id"
              :to="{ path: `/domains/${other.id}`, query: section === 'records' ? {} : { tab: section } }"
              :title="other.shown"
              :subtitle="STANDING_WORDS[other.standing].word"
            />
          </VList>
        </VMenu>
      </div>
      <p class="facts">
        <b :class="standing.mark === 'idle' ? 'soft' : `text-${standing.mark}`" role="status"
          ><StateMark :state="standing.mark" /> {{ words }}</b
        >
        <NuxtLink v-if="domain.cases" :to="docket"
          >{{ domain.cases }} {{ domain.cases === 1 ? 'case' : 'cases' }} on the docket</NuxtLink
        >
        <NuxtLink v-if="domain.links" :to="{ path: '/register', query: { domain: domain.host } }">{{ links }}</NuxtLink>
      </p>
      <p v-if="domain.next && !domain.nextAt" class="soft next">Next: {{ domain.next }}</p>
      <VBtn
        v-else-if="domain.next"
        class="next"
        :color="section === 'records' ? 'primary' : undefined"
        :variant="section === 'records' ? 'flat' : undefined"
        :to="nextTo"
        @click="nextTo ? undefined : showPlan()"
        >{{ domain.next }}</VBtn
      >
    </header>
    <component :is="isPhone ? 'details' : 'div'" :key="isPhone ? section : 'wide'" class="choice">
      <summary v-if="isPhone">
        <b>{{ current.title }}</b> <span class="soft">{{ current.text }}</span>
        <span class="more soft">All sections</span>
      </summary>
      <nav aria-label="Of this domain">
        <NuxtLink
          v-for="one in sections"
          :key="one.key"
          :to="{ query: { tab: one.key === 'records' ? undefined : one.key } }"
          :aria-current="one.key === section ? 'page' : undefined"
          replace
          ><span>{{ one.title }}</span
          ><span class="state soft"
            ><StateMark v-if="one.state === 'doubtful' || one.state === 'broken'" :state="one.state" />
            {{ one.text }}</span
          ></NuxtLink
        >
      </nav>
    </component>
  </div>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.name-line {
  display: flex;
  gap: 6px;
  align-items: center;
}
.name {
  font-size: 18px;
  overflow-wrap: anywhere;
}
.other {
  min-width: 28px;
  min-height: 28px;
}
.facts {
  display: flex;
  flex-direction: column;
  gap: 2px;
  font-size: 13px;
}
.facts a {
  display: inline-flex;
  align-items: center;
  align-self: flex-start;
  min-height: 24px;
}
.next {
  margin-top: 10px;
  white-space: normal;
}
nav {
  display: flex;
  flex-direction: column;
  margin-inline: -20px;
}
nav a {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  padding: 7px 20px;
  border-left: 3px solid transparent;
  color: rgb(var(--v-theme-on-surface));
  text-decoration: none;
}
nav a:hover {
  background: rgb(var(--v-theme-tint-primary));
}
nav a[aria-current] {
  border-left-color: rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-tint-primary));
  font-weight: 700;
}
.state {
  font-size: 13px;
  font-weight: 400;
  text-align: right;
}
summary {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.more {
  margin-left: auto;
  text-decoration: underline;
}
@media (max-width: 1000px) {
  .facts {
    flex-direction: row;
    flex-wrap: wrap;
    gap: 2px 14px;
  }
}
@media (max-width: 700px) {
  .facts a {
    min-height: 44px;
  }
  .facts {
    align-items: center;
  }
  .other {
    min-width: 44px;
    min-height: 44px;
  }
  nav {
    margin-inline: 0;
    border: 1px solid rgb(var(--v-theme-rule));
    border-top-width: 0;
  }
  nav a {
    min-height: 44px;
    padding: 10px 12px;
  }
}
</style>
