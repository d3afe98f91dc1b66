<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Link, TrafficGroup } from '~~/core/schemas'
import { useThingTraffic } from '~/composables/useThingTraffic'

/** A link’s visits: over time, and by what one chooses. */
const { link } = defineProps<{ link: Link }>()
const session = useSessionStore()
const by = ref<TrafficGroup>('referrer-kind')
const DAYS = [7, 28, 90].map((value) => ({ value, title: `${value} days` }))
const days = ref(28)
const { told, problem, load, forget } = useThingTraffic()
watch([() => link.id, by, days], () => load({ link: String(link.id) }, days.value, by.value), { immediate: true })
const asked = computed(() => ({ link: String(link.id), by: by.value, period: String(days.value) }))
const asking = ref(false)
async function forgetVisits() {
  asking.value = false
  const gone = await forget(link.id)
  if (gone === undefined) return
  useNotice().tell(`${gone.toLocaleString('en')} visit records erased; totals kept`)
  await load({ link: String(link.id) }, days.value, by.value)
}
</script>

<template>
  <section aria-labelledby="link-traffic-title" class="traffic">
    <header class="head">
      <h2 id="link-traffic-title">Visits</h2>
      <ChoiceButtons :choices="DAYS" :chosen="days" @choose="days = $event" />
      <VSpacer />
      <NuxtLink :to="{ path: '/traffic', query: asked }">In Traffic</NuxtLink>
    </header>
    <p v-if="problem" class="text-error" role="alert">{{ problem }}</p>
    <template v-if="told">
      <p role="status">
        <b>{{ told.total.toLocaleString('en') }} visits</b>
        <template v-if="told.people !== null"> by {{ told.people.toLocaleString('en') }} people</template>
        <span v-if="told.compared" class="soft"
          >; {{ told.compared.total.toLocaleString('en') }} in the previous period</span
        >
      </p>
      <TrendChart :told="told" :height="150" />
      <GroupTable :told="told" :by="by" plain @by="by = $event" />
    </template>
    <template v-if="session.may('administrator') && (told || problem)">
      <VBtn v-if="!asking" variant="text" size="small" class="px-1 align-self-start" @click="asking = true"
        >Erase visit records…</VBtn
      >
      <p v-else class="soft">
        Erases every visit record of this link. Daily totals are kept. This cannot be undone.
        <VBtn size="small" color="error" variant="tonal" @click="forgetVisits">Erase records</VBtn>
        <VBtn size="small" variant="text" @click="asking = false">Cancel</VBtn>
      </p>
    </template>
  </section>
</template>

<style scoped>
.traffic {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px 16px 24px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
