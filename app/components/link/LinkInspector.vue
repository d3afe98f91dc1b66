<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { LedgerEntry, Link } from '~~/core/schemas'
import { copyAddress } from '~/composables/copy-address'
import { queryWords } from '~/composables/query-words'

const { link, history } = defineProps<{ link: Link; history: LedgerEntry[] }>()
const editing = defineModel<boolean>('editing', { default: false })
const edited = ref(false)
watch(editing, (open) => (edited.value ||= open), { immediate: true })
const session = useSessionStore()
const renaming = ref(false)
const { short, exact } = useMoments()

const schedule = computed(() => {
  const parts = [
    link.startsAt && `from ${short(link.startsAt)}`,
    link.endsAt && `until ${short(link.endsAt)}`,
    link.resumesAt && `resumes ${short(link.resumesAt)}`,
  ].filter(Boolean)
  return parts.length ? parts.join(', ') : 'No start or end'
})
const STANDINGS: Record<string, string> = {
  scheduled: 'Scheduled: visitors see the Not found page until it starts.',
  paused: 'Paused: visitors see the Paused page.',
  ended: 'Ended: visitors go to the ended address, or see the Ended page.',
  retired: 'Retired: visitors see the Gone page (410). The slug stays reserved.',
}
</script>

<template>
  <article class="inspector" :aria-label="link.address">
    <div class="d-flex flex-wrap ga-2 mb-1">
      <RedirectChip :status="link.status" words />
      <NuxtLink v-for="tag in link.tags" :key="tag" class="tag" :to="{ path: '/tags', query: { tag } }">{{
        tag
      }}</NuxtLink>
    </div>
    <p class="address mono">
      <span class="soft">{{ link.domain }}/</span><b>{{ link.slug }}</b>
    </p>
    <p class="mb-2">
      <span aria-hidden="true">→ </span><span class="visually-hidden">leads to </span
      ><a :href="link.destination" rel="noreferrer noopener" target="_blank" class="out"
        ><LongAddress :address="link.destination" wrap
      /></a>
    </p>
    <div v-if="link.waiting" class="banner warning">
      <StateMark state="doubtful" /> <b>Waiting.</b> {{ link.domain }} is not open yet. The link works when the domain
      opens.
    </div>
    <div v-if="link.forwardsTo !== null" class="banner">
      <StateMark state="idle" /> <b>Further slug.</b> It answers as
      <NuxtLink :to="`/links/${link.forwardsTo}`">its link</NuxtLink> does.
    </div>
    <div v-if="link.exception" class="banner">
      <StateMark state="doubtful" /> Kept as an exception to the slug rules.
    </div>
    <div v-if="STANDINGS[link.standing]" class="banner">
      <StateMark :state="link.standing" /> {{ STANDINGS[link.standing] }}
    </div>
    <dl>
      <template v-if="link.title"
        ><dt>Title</dt>
        <dd>{{ link.title }}</dd></template
      >
      <dt>Query</dt>
      <dd>{{ queryWords(link) }}</dd>
      <dt>Schedule</dt>
      <dd>{{ schedule }}</dd>
      <template v-if="link.endedDestination"
        ><dt>When ended</dt>
        <dd><LongAddress :address="link.endedDestination" wrap /></dd
      ></template>
      <template v-if="link.note"
        ><dt>Note</dt>
        <dd class="note">{{ link.note }}</dd></template
      >
      <template v-if="link.owner"
        ><dt>Owner</dt>
        <dd>
          <NuxtLink :to="{ path: '/tags', query: { owner: link.owner } }">{{ link.owner }}</NuxtLink>
        </dd></template
      >
      <template v-if="link.robots"
        ><dt>Robots</dt>
        <dd class="mono">{{ link.robots }}</dd></template
      >
      <template v-if="link.referrerPolicy"
        ><dt>Referrer</dt>
        <dd class="mono">{{ link.referrerPolicy }}</dd></template
      >
      <template v-if="link.unlisted"
        ><dt>Unlisted</dt>
        <dd>Strangers who mistype another address are never told of it.</dd></template
      >
      <dt>Made</dt>
      <dd :title="exact(link.createdAt)">{{ short(link.createdAt) }}</dd>
    </dl>
    <h3 v-if="link.daily?.length" class="mt-4 mb-1">
      Last {{ link.daily.length }} days ·
      {{ link.daily.reduce((sum, day) => sum + day, 0).toLocaleString('en') }} visits
    </h3>
    <LazyLinkHolders :key="`${link.id} ${link.version}`" :link="link" />
    <LinkChecks :link="link" :history="history" />
    <div class="d-flex flex-wrap ga-2 mt-4">
      <VBtn
        v-if="session.may('editor') && link.forwardsTo === null"
        color="primary"
        variant="flat"
        @click="editing = true"
        >Change</VBtn
      >
      <VBtn v-if="session.may('editor') && link.forwardsTo === null" @click="renaming = true">Rename…</VBtn>
      <VBtn :to="{ path: '/trace', query: { address: link.address } }">Trace</VBtn>
      <VBtn @click="copyAddress(link)">Copy</VBtn>
      <StandingMenu v-if="session.may('editor') && link.forwardsTo === null" :link="link" />
    </div>
    <AliasList v-if="link.forwardsTo === null" :key="link.id" :link="link" />
    <PlacementList v-if="link.forwardsTo === null" :key="`placements ${link.id}`" :link="link" />
    <LinkDays v-if="link.forwardsTo === null" :key="`dates ${link.id}`" :link="link" />
    <LinkHistory class="mt-5" :entries="history" />
    <LazyRenameDialog v-if="renaming" :key="link.id" v-model="renaming" :link="link" />
    <LazyLinkDialog v-if="edited" v-model="editing" :link="link" />
  </article>
</template>

<style scoped>
.inspector {
  padding: 14px 16px 24px;
}
.address {
  margin: 2px 0;
  font-size: 19px;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.out {
  color: inherit;
  text-decoration-color: rgb(var(--v-theme-rule));
}
.tag {
  color: inherit;
  text-decoration: none;
  padding: 0 6px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 3px;
  background: rgb(var(--v-theme-surface));
  font-size: 12px;
  line-height: 17px;
}
.banner {
  margin: 8px 0;
  padding: 8px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
}
.banner.warning {
  border-color: rgb(var(--v-theme-warning));
  background: rgb(var(--v-theme-tint-warning));
}
dl {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 5px 12px;
  margin-top: 12px;
  font-size: 13px;
}
dt {
  color: rgb(var(--v-theme-soft));
}
dd {
  min-width: 0;
  overflow-wrap: anywhere;
}
.note {
  white-space: pre-line;
}
</style>
