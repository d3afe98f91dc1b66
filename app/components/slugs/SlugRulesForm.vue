<script setup lang="ts">
import { computed, watch } from 'vue'
import type { Domain } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useSlugRulesStore()
const domains = useDomainStore()
const session = useSessionStore()
watch(
  () => domain.id,
  (id) => store.load(id),
  { immediate: true },
)
const form = useSlugRulesForm(() => domain)
const { fields, faults, fault, problem, saving, changed, opened, meanwhile, clashes, resumed } = form
const { reason, review, decisions, keepRest, left } = form
/** Whether the domain would read addresses otherwise, or links would get others: what past requests come to then. */
const replayed = computed(() => ({
  slugs: {
    domain: domain.host,
    capitalsMatter: fields.capitalsMatter,
    trailingSlashMatters: fields.trailingSlashMatters,
    decisions: decisions.value,
  },
}))
const mayChange = computed(() => session.may('administrator'))
async function save() {
  if (!(await form.save())) return
  await domains.read(domain.id)
  useNotice().tell('Saved the slug rules')
}
</script>

<template>
  <div v-if="opened" class="columns">
    <form class="form field-column" novalidate @submit.prevent="save">
      <h2>Slug rules</h2>
      <DraftNotice v-if="resumed" @discard="form.discard()" />
      <SlugRulesFields
        :model-value="fields"
        :usual-blocked="opened.usualBlocked"
        :may-change="mayChange"
        :faults="faults"
      />
      <SlugRulesReview v-if="review" v-model:decisions="decisions" v-model:keep-rest="keepRest" :review="review" />
      <template v-if="mayChange">
        <VTextField v-if="changed.length > 0" v-model="reason" label="Reason (kept in the ledger)" maxlength="500" />
        <MeanwhileNotice v-if="meanwhile" what="domain" :clashes="clashes" @theirs="form.takeTheirs()" />
        <VAlert
          v-if="fault || problem || faults.decisions"
          type="warning"
          variant="tonal"
          density="compact"
          role="alert"
          >{{ fault || problem || faults.decisions }}</VAlert
        >
        <div class="d-flex flex-wrap ga-2 align-center">
          <VBtn
            type="submit"
            color="primary"
            variant="flat"
            :loading="saving"
            :disabled="changed.length === 0 || left > 0"
            >Save</VBtn
          >
          <VBtn v-if="changed.length > 0" @click="form.discard()">Discard changes</VBtn>
          <span v-if="left > 0" class="soft" role="status"
            >{{ left === 1 ? '1 decision is' : `${left.toLocaleString('en')} decisions are` }} left to take.</span
          >
        </div>
      </template>
    </form>
    <div class="side">
      <CapacityPanel
        :rules="fields"
        :capitals-matter="fields.capitalsMatter"
        :taken="opened.capacity.taken"
        @take="fields.randomLength = $event"
      />
      <ReplayBox v-if="changed.length > 0" :request="replayed" of="these rules" />
      <ForgivenessForm :domain="domain" :report="store.report" />
    </div>
  </div>
  <VAlert v-else-if="store.problem" type="error" variant="tonal" density="compact">{{ store.problem }}</VAlert>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 640px) minmax(300px, 420px);
  gap: 24px;
  align-items: start;
}
.form,
.side {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
