<script setup lang="ts">
import type { Step } from '~~/core/changes'
import { BLANK_STEPS, useChangeForm } from '~/composables/useChangeForm'
import { STEP_TITLES } from '~/composables/change-words'

useHead({ title: 'Change many · Fides' })
const route = useRoute()
const changes = useChangesStore()
const session = useSessionStore()
const domains = useDomainsStore()
const FILTERS = ['q', 'domain', 'standing', 'redirect', 'target', 'tag', 'owner'] as const
const links = String(route.query.links ?? '')
  .split(',')
  .map(Number)
  .filter((id) => Number.isSafeInteger(id) && id > 0)
const filters = Object.fromEntries(
  FILTERS.flatMap((name) => (route.query[name] ? [[name, String(route.query[name])]] : [])),
)
const form = useChangeForm({ links, filters, host: String(route.query.host ?? '') })
const { by, host, addresses, steps, set, domain, tagsAdded, tagsRemoved, reason, faults, fault, sending } = form

const kinds = Object.entries(STEP_TITLES) as [Step['do'], string][]
const addStep = (kind: Step['do']) => {
  const step = BLANK_STEPS[kind]()
  if (step.do === 'move-host' && by.value === 'host') step.from = host.value
  steps.value = [...steps.value, step]
}
async function send() {
  const body = form.body()
  if (!body || sending.value) return
  sending.value = true
  try {
    const made = await changes.propose(body)
    await navigateTo(`/changes/${made.id}`)
  } catch (error) {
    fault.value = (error as Error).message
    if (error instanceof ApiProblem)
      for (const { pointer, detail } of error.problem.errors ?? []) faults.value[pointer.slice(1)] ??= detail
  } finally {
    sending.value = false
  }
}
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Change many</h1>
      <span class="soft">You see what becomes of each link, and of past requests, before anything is changed.</span>
      <VSpacer />
      <NuxtLink to="/changes">Changes so far</NuxtLink>
    </header>
    <p v-if="!session.may('editor')" class="soft">Only editors and administrators change links.</p>
    <form v-else novalidate class="form-page field-column" @submit.prevent="send">
      <SelectionFields
        v-model:by="by"
        v-model:host="host"
        v-model:addresses="addresses"
        :links="links"
        :filters="filters"
        :faults="faults"
      />
      <section aria-labelledby="what-title">
        <h2 id="what-title">What to do with their destinations</h2>
        <ol class="steps ruled-list">
          <StepFields
            v-for="(_, index) in steps"
            :key="index"
            v-model="steps[index]!"
            :at="index"
            :faults="faults"
            @remove="steps = steps.filter((__, place) => place !== index)"
          />
        </ol>
        <div class="d-flex flex-wrap ga-2 mt-2">
          <VBtn v-for="[kind, title] in kinds" :key="kind" size="small" @click="addStep(kind)">{{ title }}</VBtn>
        </div>
      </section>
      <section aria-labelledby="fields-title">
        <h2 id="fields-title" class="mb-2">What else to set</h2>
        <FieldsToSet v-model="set" :faults="faults" />
        <VSelect
          v-model="domain"
          class="mt-3"
          label="Move to another domain"
          clearable
          :items="domains.domains.map(({ host }) => host)"
          :error-messages="faults['change/domain']"
          hint="Their addresses so far go on working: each leads to its link at the new one. Slugs stay as they are."
          persistent-hint
        />
        <div class="tags mt-3">
          <VCombobox v-model="tagsAdded" label="Add tags" multiple chips closable-chips :delimiters="[',']" />
          <VCombobox v-model="tagsRemoved" label="Take tags away" multiple chips closable-chips :delimiters="[',']" />
        </div>
      </section>
      <VTextField v-model="reason" label="Reason" maxlength="500" hint="It stands in the ledger." persistent-hint />
      <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
      <VBtn type="submit" color="primary" variant="flat" class="align-self-start" :loading="sending"
        >See what it does</VBtn
      >
    </form>
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
  align-items: baseline;
  margin-bottom: 14px;
}
.steps {
  list-style: none;
  padding: 0;
}
.tags {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 10px;
}
</style>
