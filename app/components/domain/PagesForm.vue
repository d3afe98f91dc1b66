<script setup lang="ts">
import { computed, ref } from 'vue'
import {
  PAGE_KINDS,
  PAGE_LANGUAGES,
  visitorPage,
  WORDS,
  type PageKind,
  type PageLanguage,
  type PageSettings,
} from '~~/core/pages'
import type { Domain } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const session = useSessionStore()
const form = useDomainForm(['pages'])
const { fields, faults, save } = form
const mayChange = computed(() => session.may('administrator'))
const pages = computed(() => fields.pages as PageSettings)
const set = (more: Partial<PageSettings>) => (fields.pages = { ...pages.value, ...more })
const field = (name: 'name' | 'mark' | 'contact') =>
  computed({ get: () => pages.value[name] ?? '', set: (value: string) => set({ [name]: value || undefined }) })
const name = field('name')
const mark = field('mark')
const contact = field('contact')
const colour = computed({
  get: () => pages.value.colour ?? '',
  set: (value: string) => set({ colour: value.trim() || undefined }),
})
const LANGUAGES = Object.entries(PAGE_LANGUAGES).map(([value, title]) => ({ value: value as PageLanguage, title }))
const languages = computed({
  get: () => pages.value.languages ?? LANGUAGES.map(({ value }) => value),
  set: (value: PageLanguage[]) => set({ languages: value.length === LANGUAGES.length ? undefined : value }),
})
const offers = computed({
  get: () => pages.value.offers ?? true,
  set: (value: boolean) => set({ offers: value ? undefined : false }),
})

const language = ref<PageLanguage>(languages.value[0] ?? 'en')
const kind = ref<PageKind>('not-found')
const KINDS = Object.entries(PAGE_KINDS).map(([value, title]) => ({ value: value as PageKind, title }))
const text = (part: 'heading' | 'sentence') =>
  computed({
    get: () => pages.value.texts?.[language.value]?.[kind.value]?.[part] ?? '',
    set: (value: string) => {
      const texts = pages.value.texts ?? {}
      const own = texts[language.value] ?? {}
      const page = { ...own[kind.value], [part]: value === '' ? undefined : value }
      set({ texts: { ...texts, [language.value]: { ...own, [kind.value]: page } } })
    },
  })
const heading = text('heading')
const sentence = text('sentence')
const usual = computed(() => WORDS[language.value].pages[kind.value])

/** The page as a visitor sees it, made by the gateway’s own code. */
const preview = computed(() =>
  visitorPage({
    kind: kind.value,
    host: domain.shown,
    asked: `${domain.shown}/${kind.value === 'not-found' ? 'fraes' : 'fares'}`,
    settings: { ...pages.value, languages: [language.value] },
    acceptLanguage: language.value,
    likely: kind.value === 'not-found' && offers.value ? { address: `${domain.shown}/fares`, href: '#' } : null,
    others: [],
    backAfter: null,
    capitalsMatter: domain.capitalsMatter,
    tryAgain: kind.value !== 'not-served',
  }),
)
const octets = computed(() => new TextEncoder().encode(preview.value).length)
</script>

<template>
  <div class="split">
    <form class="field-column" novalidate @submit.prevent="save">
      <h2>Visitor pages</h2>
      <p class="soft">
        Pages shown when an address is not found, paused, ended or gone. In the visitor’s language, without scripts,
        with the correct status code.
      </p>
      <div class="pair">
        <VTextField
          v-model="name"
          label="Name"
          :placeholder="domain.shown"
          maxlength="60"
          :readonly="!mayChange"
          :error-messages="faults['pages/name']"
        />
        <VTextField
          v-model="mark"
          class="short"
          label="Mark"
          maxlength="3"
          hint="Up to three characters"
          persistent-hint
          :readonly="!mayChange"
          :error-messages="faults['pages/mark']"
        />
        <VTextField
          v-model="colour"
          class="short mono"
          label="Colour"
          placeholder="#6a2c4f"
          maxlength="7"
          :readonly="!mayChange"
        />
      </div>
      <VTextField
        v-model="contact"
        label="Contact"
        hint="E-mail address, telephone number or web page; shown on every visitor page."
        persistent-hint
        maxlength="200"
        :readonly="!mayChange"
      />
      <VSelect
        v-model="languages"
        :items="LANGUAGES"
        label="Languages"
        hint="The first is the default."
        persistent-hint
        multiple
        chips
        :readonly="!mayChange"
      />
      <VSwitch
        v-model="offers"
        label="Suggest similar addresses"
        hint="Only live, listed links. Visitors are never redirected automatically."
        persistent-hint
        density="compact"
        :readonly="!mayChange"
      />
      <h3 class="mt-2">Words</h3>
      <div class="pair">
        <VSelect v-model="kind" :items="KINDS" label="Page" />
        <VSelect v-model="language" :items="LANGUAGES" label="In" />
      </div>
      <VTextField
        v-model="heading"
        label="Heading"
        :placeholder="usual.heading"
        persistent-placeholder
        maxlength="80"
        :readonly="!mayChange"
      />
      <VTextarea
        v-model="sentence"
        label="Sentence"
        :placeholder="usual.sentence"
        persistent-placeholder
        rows="2"
        auto-grow
        maxlength="300"
        :readonly="!mayChange"
      />
      <VAlert v-if="faults.pages" type="error" variant="tonal" density="compact" role="alert">{{
        faults.pages
      }}</VAlert>
      <FormFoot :form="form" what="domain" :may-change="mayChange" />
    </form>
    <section aria-labelledby="preview-title">
      <h2 id="preview-title">Phone preview</h2>
      <iframe :srcdoc="preview" sandbox="" title="Preview of the page" width="360" height="600" class="phone" />
      <p class="soft">{{ octets.toLocaleString('en') }} of 14,336 bytes.</p>
    </section>
  </div>
</template>

<style scoped>
.split {
  display: flex;
  flex-wrap: wrap;
  gap: 24px 40px;
  margin-top: 12px;
}
form {
  display: flex;
  flex: 1 1 420px;
  flex-direction: column;
  gap: 12px;
  max-width: 620px;
}
.pair {
  display: flex;
  align-items: flex-start;
  flex-wrap: wrap;
  gap: 12px;
}
.pair > * {
  flex: 1 1 160px;
}
.pair > .short {
  flex: 0 1 120px;
}
.phone {
  display: block;
  max-width: 100%;
  margin: 8px 0;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 12px;
}
</style>
