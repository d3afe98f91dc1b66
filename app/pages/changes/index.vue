<script setup lang="ts">
import { onMounted } from 'vue'
import { PROPOSAL_STATES } from '~/composables/change-words'

useHead({ title: 'Changes · Fides' })
const changes = useChangesStore()
const session = useSessionStore()
const { short, exact } = useMoments()
onMounted(() => changes.list())
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Link changes</h1>
      <span class="soft">Proposed, scheduled and applied changes.</span>
      <VSpacer />
      <VBtn v-if="session.may('editor')" color="primary" variant="flat" to="/changes/new">Change links…</VBtn>
    </header>
    <VAlert v-if="changes.problem" type="error" variant="tonal" density="compact">
      {{ changes.problem }} <VBtn variant="text" @click="changes.list()">Try again</VBtn>
    </VAlert>
    <p v-else-if="changes.items.length === 0 && !changes.loading" class="soft py-6">
      No changes yet. Select links here or in the register to change them together, for example when a partner’s site
      moves. You see the effect on each link first.
    </p>
    <ul v-else class="ruled-list">
      <li v-for="one in changes.items" :key="one.id" class="one">
        <time :datetime="one.madeAt" :title="exact(one.madeAt)" class="soft">{{ short(one.madeAt) }}</time>
        <div class="what">
          <NuxtLink :to="`/changes/${one.id}`">{{ one.words.charAt(0).toUpperCase() + one.words.slice(1) }}</NuxtLink>
          <div class="soft">
            {{ one.counts.change.toLocaleString('en') }} {{ one.counts.change === 1 ? 'link' : 'links' }}, by
            {{ one.actor }}<template v-if="one.reason">: “{{ one.reason }}”</template>
          </div>
        </div>
        <span>
          <StateMark :state="PROPOSAL_STATES[one.state].state" /> {{ PROPOSAL_STATES[one.state].words
          }}<template v-if="one.at && one.state === 'waiting'">: {{ short(one.at) }}</template>
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.page {
  max-width: 1200px;
  padding: 14px 20px 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-bottom: 8px;
}
.one {
  display: grid;
  grid-template-columns: 150px 1fr minmax(160px, auto);
  gap: 4px 14px;
  align-items: start;
  padding: 8px 0;
}
.what {
  min-width: 0;
  overflow-wrap: anywhere;
}
.what a {
  display: inline-block;
  min-height: 24px;
}
@media (max-width: 700px) {
  .one {
    grid-template-columns: 1fr;
  }
}
</style>
