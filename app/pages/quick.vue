<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { readDestination } from '~~/core/address'
import type { Link } from '~~/core/schemas'

/** The small window a bookmarklet opens: the short address of the page one is on, found or made, and copied. */
definePageMeta({ layout: 'plain' })
useHead({ title: 'Short address · Fides', meta: [{ name: 'referrer', content: 'no-referrer' }] })
const route = useRoute()
const session = useSessionStore()
const domains = useDomainsStore()
const links = useLinkStore()
const to = String(route.query.to ?? '')
const title = ref(String(route.query.title ?? '').slice(0, 300))
const slug = ref('')
const domain = ref('')
const found = ref<Link[]>([])
const made = ref<Link>()
const looked = ref(false)
const busy = ref(false)
const fault = ref('')
const copied = ref('')
const readable = readDestination(to).ok
const fits = computed(() => session.may('editor') && readable)

async function copy(address: string) {
  try {
    await navigator.clipboard.writeText(`https://${address}`)
    copied.value = address
  } catch {
    // The browser wants the window to be looked at first; the button does it then.
    copied.value = ''
  }
}
onMounted(async () => {
  if (!readable) return
  try {
    await domains.load()
    domain.value ||= domains.domains[0]?.host ?? ''
    found.value = await links.twins(to)
    if (found.value[0]) await copy(found.value[0].address)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    looked.value = true
  }
})
async function make() {
  if (busy.value) return
  busy.value = true
  fault.value = ''
  try {
    made.value = await links.create({
      domain: domain.value,
      destination: to,
      title: title.value,
      ...(slug.value.trim() && { slug: slug.value.trim() }),
    })
    await copy(made.value.address)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
const shown = computed(() => (made.value ? [made.value] : found.value))
</script>

<template>
  <div class="quick">
    <h1>Short address</h1>
    <p class="mono soft to">{{ to || 'No page was named.' }}</p>
    <VAlert v-if="to && !readable" type="warning" variant="tonal" density="compact">
      Only pages with http:// or https:// can have a short address.
    </VAlert>
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
    <ul v-if="shown.length > 0" class="list">
      <li v-for="link in shown" :key="link.id">
        <ShortAddress :address="link.address" />
        <VBtn size="small" :aria-label="`Copy ${link.address}`" @click="copy(link.address)">Copy</VBtn>
      </li>
    </ul>
    <p v-if="copied" role="status">Copied: {{ copied }}</p>
    <p v-else-if="shown.length > 0" class="soft">Press Copy. This browser does not allow automatic copying.</p>
    <form v-if="looked && fits && !made" novalidate class="field-column form" @submit.prevent="make">
      <p v-if="found.length > 0" class="soft">
        This page already has a short address. Create another only if you need it.
      </p>
      <VSelect v-model="domain" :items="domains.domains.map(({ host }) => host)" label="Domain" hide-details />
      <VTextField v-model="slug" label="Slug (empty: random)" class="mono" hide-details />
      <VTextField v-model="title" label="Title" hide-details />
      <VBtn type="submit" color="primary" variant="flat" :loading="busy">Create link</VBtn>
    </form>
    <p v-else-if="looked && readable && found.length === 0 && !made" class="soft">
      This page has no short address. You need the editor role to create one.
    </p>
  </div>
</template>

<style scoped>
.to {
  overflow-wrap: anywhere;
}
.list {
  padding: 0;
  list-style: none;
}
.list li {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  padding: 6px 0;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 14px;
  margin-top: 12px;
}
</style>
