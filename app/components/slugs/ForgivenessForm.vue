<script setup lang="ts">
import { computed } from 'vue'
import type { Domain, ForgivenessReport } from '~~/core/schemas'

const { domain, report = undefined } = defineProps<{ domain: Domain; report?: ForgivenessReport }>()
const session = useSessionStore()
const store = useSlugRulesStore()
const mayChange = computed(() => session.may('administrator'))
const form = useDomainForm(['mendPunctuation', 'mendCapitals', 'mendLookAlikes'])
const { fields, save } = form
const PARTS = [
  [
    'punctuation',
    'mendPunctuation',
    'Punctuation at the end',
    'Punctuation after an address in running text: . , ; : ! ? ) ] } > \' " and spaces.',
  ],
  ['capitals', 'mendCapitals', 'Capitals', 'FARES for fares.'],
  ['look-alikes', 'mendLookAlikes', 'Look-alikes', '0 for o, 1 for l, a hyphen too many.'],
] as const
const of = (part: string) => report?.parts.find((one) => one.part === part)
async function submit() {
  await save()
  await store.load(domain.id)
}
</script>

<template>
  <form class="forgiveness" novalidate @submit.prevent="submit">
    <h2>Tolerant matching</h2>
    <p class="soft">
      When a request matches nothing and only one live link is a possible match, visitors are redirected to it
      temporarily. If several are possible, the address is not found.
    </p>
    <p v-if="report" class="soft">
      {{ report.missed.toLocaleString('en') }} requests were not found in the last {{ report.days }} days. Robots are
      left out.
    </p>
    <div v-for="[part, key, title, hint] in PARTS" :key="part" class="part">
      <VSwitch
        v-model="fields[key]"
        density="compact"
        hide-details
        color="primary"
        :label="title"
        :disabled="!mayChange"
        :aria-describedby="`mend-${part}`"
      />
      <div :id="`mend-${part}`" class="told">
        <span class="soft">{{ hint }}</span>
        <span v-if="of(part)">
          <template v-if="of(part)!.on || of(part)!.did > 0"
            ><b>{{ of(part)!.did.toLocaleString('en') }}</b> corrected.
          </template>
          <template v-if="!of(part)!.on || of(part)!.would > 0"
            >Would have corrected <b>{{ of(part)!.would.toLocaleString('en') }}</b>. </template
          >Ambiguous: <b>{{ of(part)!.ambiguous.toLocaleString('en') }}</b>.
        </span>
        <span v-for="example in of(part)?.examples.slice(0, 3)" :key="example.path" class="soft"
          ><span class="mono">{{ example.path }}</span> {{ example.leadsTo === null ? 'could be several' : '→' }}
          <span class="mono">{{ example.leadsTo }}</span> ({{ example.requests.toLocaleString('en') }})</span
        >
      </div>
    </div>
    <FormFoot :form="form" what="domain" :may-change="mayChange" save="Save tolerant matching" />
  </form>
</template>

<style scoped>
.forgiveness {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 14px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
}
.part {
  border-top: 1px dashed rgb(var(--v-theme-rule));
}
.told {
  display: flex;
  flex-direction: column;
  padding-bottom: 6px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
