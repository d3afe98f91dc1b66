<script setup lang="ts">
import type { Step } from '~~/core/changes'
import { BLANK_STEPS, useChangeForm } from '~/composables/useChangeForm'
import { STEP_TITLES } from '~/composables/change-words'
import { REGISTER_FILTERS } from '~~/core/schemas/register-filters'

useHead({ title: 'Change links · Fides' })
const route = useRoute()
const changes = useChangesStore()
const session = useSessionStore()
const domains = useDomainsStore()
// All the register narrows by: fewer would mean more links than were shown.
const FILTERS = REGISTER_FILTERS.filter((name) => name !== 'sort')
const links = String(route.query.links ?? '')
  .split(',')
  .map(Number)
  .filter((id) => Number.isSafeInteger(id) && id > 0)
const filters = Object.fromEntries(
  FILTERS.flatMap((name) => (route.query[name] ? [[name, String(route.query[name])]] : [])),
)
const form = useChangeForm({
  links,
  filters,
  host: String(route.query.host ?? ''),
  destination: route.query.destination ? String(route.query.destination) : undefined,
})
const { by, host, addresses, steps, set, domain, tagsAdded, tagsRemoved, reason, faults, fault, sending, resumed } =
  form

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
    form.discard()
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
      <h1>Change links</h1>
      <span class="soft">You see the effect on each link and on past requests before you apply the change.</span>
      <VSpacer />
      <NuxtLink to="/changes">All changes</NuxtLink>
    </header>
    <p v-if="!session.may('editor')" class="soft">You need the editor or administrator role to change links.</p>
    <form v-else novalidate class="form-page field-column" @submit.prevent="send">
      <DraftNotice v-if="resumed" @discard="form.discard()" />
      <SelectionFields
        v-model:by="by"
        v-model:host="host"
        v-model:addresses="addresses"
        :links="links"
        :filters="filters"
        :faults="faults"
      />
      <section aria-labelledby="what-title">
        <h2 id="what-title">Destinations</h2>
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
        <h2 id="fields-title" class="mb-2">Other fields</h2>
        <FieldsToSet v-model="set" :faults="faults" />
        <VSelect
          v-model="domain"
          class="mt-3"
          label="Move to another domain"
          clearable
          :items="domains.domains.map(({ host }) => host)"
          :error-messages="faults['change/domain']"
          hint="The old addresses keep working and redirect as their links do. Slugs do not change."
          persistent-hint
        />
        <div class="tags mt-3">
          <VCombobox v-model="tagsAdded" label="Add tags" multiple chips closable-chips :delimiters="[',']" />
          <VCombobox v-model="tagsRemoved" label="Remove tags" multiple chips closable-chips :delimiters="[',']" />
        </div>
      </section>
      <VTextField v-model="reason" label="Reason" maxlength="500" hint="Kept in the ledger." persistent-hint />
      <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
      <VBtn type="submit" color="primary" variant="flat" class="align-self-start" :loading="sending">Preview</VBtn>
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
