<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { isOpenStanding, type SlugCheck } from '~~/core/schemas'

const {
  fault = undefined,
  title = '',
  destination = '',
  link = undefined,
} = defineProps<{ fault?: string; title?: string; destination?: string; link?: number }>()
const domain = defineModel<string>('domain', { required: true })
const slug = defineModel<string>('slug', { required: true })
const store = useLinkStore()
const domains = useDomainsStore()

const settled = refDebounced(
  computed(() => [domain.value, slug.value.trim(), title, destination] as const),
  120,
)
const check = ref<SlugCheck>()
const asked = ref('')
let asking: AbortController | undefined
watch(
  settled,
  async ([host, text, about, leadsTo]) => {
    asking?.abort()
    const mine = (asking = new AbortController())
    if (host === '') return void (check.value = undefined)
    const found = await store
      .checkSlug(
        { domain: host, slug: text, title: about, destination: leadsTo, ...(link !== undefined && { link }) },
        mine.signal,
      )
      .catch(() => undefined)
    if (mine.signal.aborted) return
    check.value = found
    asked.value = text
  },
  { immediate: true },
)

/** Domains with their standing: a link on one that is not open works later. */
const choices = computed(() =>
  domains.domains.map((item) => ({
    value: item.host,
    title: isOpenStanding(item.standing) ? `${item.shown} ●` : `${item.shown} ○ not open`,
  })),
)
const waits = computed(() => {
  const chosen = domains.byHost(domain.value)
  return chosen && !isOpenStanding(chosen.standing)
})
const typed = computed(() => slug.value.trim())
// A verdict counts only for the slug it was asked for.
const verdict = computed(() => (typed.value !== '' && asked.value === typed.value ? check.value : undefined))
const error = computed(
  () => fault ?? (verdict.value && verdict.value.state !== 'free' ? verdict.value.reasons[0] : undefined),
)
const hint = computed(() =>
  typed.value === ''
    ? 'Empty: a random slug by the domain’s rules.'
    : verdict.value?.state === 'free'
      ? `Available: ${domain.value}/${typed.value}`
      : 'Checking…',
)
</script>

<template>
  <div>
    <div class="pair">
      <VSelect v-if="link === undefined" v-model="domain" :items="choices" label="Domain" class="domain mono" />
      <VTextField
        v-model="slug"
        label="Slug"
        class="slug mono"
        prefix="/"
        :error-messages="error"
        :hint="hint"
        persistent-hint
        autocomplete="off"
        autocapitalize="off"
        spellcheck="false"
        maxlength="200"
      />
    </div>
    <p v-if="verdict?.state === 'taken' && verdict.link" class="told">
      <NuxtLink :to="`/links/${verdict.link.id}`" target="_blank" class="holder"
        >Open {{ verdict.link.address }}</NuxtLink
      >
    </p>
    <SlugAdvice v-if="check" :check="check" :current="verdict !== undefined" @take="slug = $event" />
    <p v-if="waits" class="told">
      <StateMark state="doubtful" /> {{ domain }} is not open yet. The link works once it is.
    </p>
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 10px;
}
.domain {
  flex: 1 1 220px;
}
.slug {
  flex: 2 1 260px;
}
.told {
  margin: 4px 0 0;
  font-size: 13px;
}
.holder {
  color: rgb(var(--v-theme-primary));
}
</style>
