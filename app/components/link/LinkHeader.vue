<script setup lang="ts">
import { copyAddress } from '~/composables/copy-address'
import { stateOf } from '~/composables/link-words'
import type { Link } from '~~/core/schemas'

const { link } = defineProps<{ link: Link }>()
defineEmits<{ edit: []; rename: [] }>()
const session = useSessionStore()
const newLink = useNewLink()
const STANDINGS: Record<string, string> = {
  live: 'Live',
  scheduled: 'Scheduled',
  paused: 'Paused',
  ended: 'Ended',
  retired: 'Retired',
  waiting: 'Domain not open',
}
</script>

<template>
  <header class="head">
    <h1 id="link-address" class="address mono" tabindex="-1">
      <span class="soft">{{ link.domain }}/</span>{{ link.slug }}
    </h1>
    <span class="standing"
      ><StateMark :state="stateOf(link)" /> <b>{{ STANDINGS[stateOf(link)] }}</b></span
    >
    <div class="acts">
      <VBtn @click="copyAddress(link)">Copy <kbd class="mono key">c</kbd></VBtn>
      <VBtn :to="{ path: '/trace', query: { address: link.address } }">Trace <kbd class="mono key">t</kbd></VBtn>
      <StandingMenu v-if="session.may('editor') && link.forwardsTo === null" :link="link" />
      <VMenu v-if="session.may('editor') && link.forwardsTo === null">
        <template #activator="{ props }"><VBtn v-bind="props">More ▾</VBtn></template>
        <VList density="compact">
          <VListItem title="Edit all fields" @click="$emit('edit')" />
          <VListItem title="Rename…" @click="$emit('rename')" />
          <VListItem title="Duplicate" @click="newLink.start({ destination: link.destination, domain: link.domain })" />
        </VList>
      </VMenu>
    </div>
    <p class="about">
      <span v-if="link.title">{{ link.title }}</span>
      <NuxtLink v-for="tag in link.tags" :key="tag" class="tag" :to="{ path: '/tags', query: { tag } }">{{
        tag
      }}</NuxtLink>
    </p>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.address {
  font-size: 22px;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.address > .soft {
  font-weight: 400;
}
.standing {
  white-space: nowrap;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.key {
  margin-left: 8px;
  font-weight: 400;
  color: rgb(var(--v-theme-soft));
}
.about {
  display: flex;
  flex-wrap: wrap;
  flex-basis: 100%;
  gap: 6px;
  align-items: center;
  color: rgb(var(--v-theme-soft));
}
.tag {
  padding: 1px 7px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 2px;
  background: rgb(var(--v-theme-surface));
  color: rgb(var(--v-theme-on-surface));
  font-size: 12px;
  line-height: 20px;
  text-decoration: none;
}
@media (max-width: 699px) {
  .acts {
    flex-basis: 100%;
  }
  .acts > * {
    flex: 1 1 0;
  }
  .key {
    display: none;
  }
}
</style>
