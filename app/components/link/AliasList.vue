<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Link } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const { link } = defineProps<{ link: Link }>()
const store = useLinkStore()
const session = useSessionStore()
const domains = useDomainsStore()
const { conflicts, reason, clear, take } = useConflicts()
const adding = ref(false)
const slug = ref('')
const domain = ref(link.domain)
const fault = ref('')
const busy = ref(false)
// A form with a draft is open from the start.
const draft = useDraft(`slug of ${link.id}`, { slug, domain, reason })
if (draft.resume()) adding.value = true
function discard() {
  draft.forget()
  slug.value = ''
  domain.value = link.domain
  adding.value = false
  clear()
  draft.resume()
}
const aliases = computed(() => link.aliases ?? [])
const hosts = computed(() => domains.domains.map(({ host, shown }) => ({ value: host, title: shown })))
const sum = computed(() => aliases.value.reduce((total, { visits28 }) => total + visits28, link.visits28))

async function add() {
  busy.value = true
  fault.value = ''
  try {
    await store.addAlias(link.id, { slug: slug.value.trim(), domain: domain.value, reason: reason.value.trim() })
    discard()
  } catch (error) {
    if (!take(error)) fault.value = (error instanceof ApiProblem && error.fields.slug) || (error as Error).message
  } finally {
    busy.value = false
  }
}
async function remove(id: number) {
  try {
    await store.removeAlias(link.id, id)
  } catch (error) {
    useNotice().tell((error as Error).message)
  }
}
</script>

<template>
  <section v-if="aliases.length > 0 || session.may('editor')" class="mt-5" aria-labelledby="aliases-title">
    <h3 id="aliases-title" class="mb-1">
      Further slugs<span v-if="aliases.length > 0" class="soft"
        >, {{ sum.toLocaleString('en') }} visits, all slugs (28 days)</span
      >
    </h3>
    <ul class="aliases">
      <li v-for="alias in aliases" :key="alias.id">
        <span class="mono address">{{ alias.address }}</span>
        <span class="soft">{{
          alias.same ? 'the same address' : `${alias.visits28.toLocaleString('en')} visits`
        }}</span>
        <VBtn
          v-if="session.may('editor')"
          size="small"
          variant="text"
          :aria-label="`Remove ${alias.address}`"
          @click="remove(alias.id)"
          >Remove</VBtn
        >
      </li>
    </ul>
    <VBtn v-if="session.may('editor') && !adding" size="small" @click="adding = true">Add a slug…</VBtn>
    <form v-if="adding" class="d-flex flex-column ga-2 field-column" novalidate @submit.prevent="add">
      <div class="d-flex flex-wrap ga-2">
        <VSelect v-model="domain" :items="hosts" label="Domain" class="domain" />
        <VTextField
          v-model="slug"
          class="mono slug"
          label="Slug"
          maxlength="200"
          autofocus
          :error-messages="fault"
          @update:model-value="clear"
        />
      </div>
      <ConflictNotice v-if="conflicts.length > 0" v-model:reason="reason" :conflicts="conflicts" />
      <div class="d-flex ga-2">
        <VBtn type="submit" size="small" color="primary" variant="flat" :loading="busy" :disabled="slug.trim() === ''"
          >Add</VBtn
        >
        <VBtn size="small" @click="discard">Cancel</VBtn>
      </div>
    </form>
  </section>
</template>

<style scoped>
.aliases {
  padding: 0;
  list-style: none;
}
.aliases li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: center;
  font-size: 13px;
}
.address {
  overflow-wrap: anywhere;
}
.domain {
  flex: 0 0 170px;
}
.slug {
  flex: 1 1 140px;
}
</style>
