<script setup lang="ts">
import { computed, ref } from 'vue'
import { visible } from '~~/core/misses/letter'
import type { MissDecision, MissDetail } from '~~/core/schemas'
import { DECISION_WORDS, percent, TREND_WORDS } from '~/composables/miss-words'

const { miss } = defineProps<{ miss: MissDetail }>()
const emit = defineEmits<{ decide: [item: { decision: MissDecision; link?: number }] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
const letter = ref<MissDetail['referrers'][number]>()
const writing = ref(false)
const countries = computed(() =>
  miss.countries.slice(0, 6).map(({ country, requests }) => `${country} ${requests.toLocaleString('en')}`),
)
const decisions = computed((): MissDecision[] => {
  if (miss.state === 'noise') return ['open']
  if (miss.state === 'answered') return []
  return miss.gone ? ['back', 'noise', 'noise-shape'] : ['link', 'gone', 'noise', 'noise-shape']
})
</script>

<template>
  <article class="view" :aria-label="visible(miss.address)">
    <h2 class="mono name">{{ visible(miss.address) }}</h2>
    <p>
      <b>{{ miss.visitors28.toLocaleString('en') }}</b> {{ miss.visitors28 === 1 ? 'visitor' : 'visitors' }} and
      {{ miss.requests28.toLocaleString('en') }} {{ miss.requests28 === 1 ? 'request' : 'requests' }} in the last 28
      days, {{ TREND_WORDS[miss.trend] }}; first <span :title="exact(miss.firstAt)">{{ short(miss.firstAt) }}</span>,
      last <span :title="exact(miss.lastAt)">{{ short(miss.lastAt) }}</span>.
      <NuxtLink v-if="miss.caseId" :to="`/docket?lane=misses&case=${miss.caseId}`">Its case</NuxtLink>
    </p>
    <p v-if="miss.noise" class="banner"><StateMark state="idle" /> Noise: {{ miss.noise }}.</p>
    <p v-if="miss.answeredBy" class="banner">
      <StateMark state="sound" />
      {{
        miss.answeredBy.by === 'gone'
          ? 'Visitors are told that it is gone'
          : `Answered by ${miss.answeredBy.address}; ${miss.answeredBy.served.toLocaleString('en')} visits served`
      }}
      since {{ short(miss.answeredBy.at) }}.
    </p>

    <template v-if="miss.state === 'open'">
      <h3 class="mt-4 mb-1">Possible matches</h3>
      <ul class="panel">
        <li v-for="one in miss.ranking?.candidates ?? []" :key="one.link">
          <b class="share">{{ percent(one.probability) }}</b>
          <span class="what"
            ><NuxtLink :to="`/links/${one.link}`" class="mono">{{ one.address }}</NuxtLink>
            <span class="soft"
              >{{ one.because.join(', ') || 'the same words' }}{{ one.live ? '' : ' · not live' }}</span
            >
          </span>
          <VBtn
            v-if="session.may('editor') && one.live && !miss.gone"
            size="small"
            class="add"
            :aria-label="`Add as a slug of this link: ${one.address}`"
            @click="emit('decide', { decision: 'alias', link: one.link })"
            >Add as a slug</VBtn
          >
        </li>
        <li>
          <b class="share">{{ percent(miss.ranking?.none ?? 1) }}</b>
          <span class="what soft">no match</span>
        </li>
      </ul>
    </template>
    <div v-if="session.may('editor') && decisions.length > 0" class="d-flex flex-wrap ga-2 mt-3">
      <VBtn v-for="decision in decisions" :key="decision" size="small" @click="emit('decide', { decision })">{{
        DECISION_WORDS[decision]
      }}</VBtn>
    </div>

    <template v-if="miss.family">
      <h3 class="mt-4 mb-1">Same pattern</h3>
      <p>
        {{ miss.family.members.length }} requested addresses of this shape do not exist. One rule would match them all:
        <b class="mono">{{ miss.family.pattern }}</b>
        <template v-if="miss.family.destination"> → <LongAddress :address="miss.family.destination" wrap /></template>.
      </p>
      <p v-if="miss.family.destination === null" class="soft">
        No destination can be derived. Create the rule under Rules.
      </p>
      <p v-else-if="miss.family.clashes.length === 0">
        <StateMark state="sound" /> Proven: no conflict with any link or rule of the domain.
      </p>
      <p v-for="clash in miss.family.clashes" :key="clash.headline + clash.witness">
        <StateMark state="doubtful" /> {{ clash.sentence }}
      </p>
    </template>

    <template v-if="miss.followed.length > 0">
      <h3 class="mt-4 mb-1">Where visitors went next</h3>
      <p v-for="one in miss.followed" :key="one.link">
        <NuxtLink :to="`/links/${one.link}`" class="mono">{{ one.address }}</NuxtLink>
        <span class="soft"> {{ one.visitors.toLocaleString('en') }} within ten minutes</span>
      </p>
    </template>

    <template v-if="miss.referrers.length > 0">
      <h3 class="mt-4 mb-1">Pages with the wrong address</h3>
      <ul class="panel">
        <li v-for="page in miss.referrers" :key="page.page">
          <b class="share">{{ page.requests.toLocaleString('en') }}</b>
          <span class="what"
            ><span class="mono">{{ visible(page.page) }}</span>
            <span v-if="page.toldAt" class="soft"
              >owner notified {{ short(page.toldAt) }} by {{ page.toldBy }}</span
            ></span
          >
          <VBtn size="small" @click="((letter = page), (writing = true))">Letter…</VBtn>
        </li>
      </ul>
    </template>
    <p v-if="countries.length > 0" class="soft mt-3">Countries: {{ countries.join(', ') }}.</p>
    <LetterDialog v-if="letter" v-model="writing" :miss="miss.id" :page="letter" />
  </article>
</template>

<style scoped>
.view {
  padding: 14px 20px 32px;
}
.name {
  margin-bottom: 4px;
  overflow-wrap: anywhere;
}
.banner {
  margin: 8px 0;
  padding: 8px 10px;
  border-left: 4px solid rgb(var(--v-theme-soft));
  background: rgb(var(--v-theme-count));
}
.panel {
  padding: 0;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
  list-style: none;
}
.panel li {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  padding: 6px 10px;
}
.panel li + li {
  border-top: 1px solid rgb(var(--v-theme-rule));
}
.share {
  flex: 0 0 48px;
  text-align: right;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.what {
  display: flex;
  flex: 1 1 22ch;
  flex-direction: column;
  min-width: 0;
  overflow-wrap: anywhere;
}
.what > .soft {
  font-size: 12px;
}
</style>
