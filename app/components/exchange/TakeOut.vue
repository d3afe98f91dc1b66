<script setup lang="ts">
import { computed, watch } from 'vue'
import { useTakeOut, WRITTEN_KINDS } from '~/composables/useTakeOut'

/** A domain's links and rules as a file: what it could not say is told before it is taken. */
const domains = useDomainsStore()
const { zone } = useMoments()
const { chosen, forgetPicked, format, domain, tag, moment, about, fault, loading, address } = useTakeOut()
watch(
  () => domains.domains,
  (known) => (domain.value ||= known[0]?.host ?? ''),
  { immediate: true },
)
const number = (count: number) => count.toLocaleString('en')
const size = computed(() => {
  const octets = about.value?.files.reduce((sum, file) => sum + file.octets, 0) ?? 0
  return octets < 10_000 ? `${number(octets)} bytes` : `${number(Math.round(octets / 1000))} kB`
})
</script>

<template>
  <section class="out field-column" aria-labelledby="out-title">
    <h2 id="out-title">Export</h2>
    <p class="soft">Links and rules, as they are now or as of any time; for backup, transfer or use without Fides.</p>
    <div class="fields">
      <VSelect v-model="domain" :items="domains.domains.map(({ host }) => host)" label="Domain" hide-details />
      <VSelect v-model="format" :items="WRITTEN_KINDS" label="As" hide-details />
      <VTextField v-model="tag" label="Tag" hide-details />
      <DateField v-model="moment" kind="moment" past :label="`As of (${zone()}); empty: now`" />
    </div>
    <p v-if="chosen > 0" class="mt-2">
      Of these, only {{ chosen === 1 ? 'the link' : `the ${number(chosen)} links` }} picked in the register.
      <VBtn variant="text" size="small" @click="forgetPicked">Export all links</VBtn>
    </p>
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" role="alert">{{ fault }}</VAlert>
    <VBtn :href="address" download :disabled="!domain || fault !== ''" class="my-3">Download</VBtn>
    <p v-if="loading && !about" class="soft" role="status">Checking what this format cannot express…</p>
    <template v-if="about">
      <p role="status">
        {{ number(about.links) }} {{ about.links === 1 ? 'link' : 'links'
        }}<template v-if="about.rules > 0"
          >, {{ number(about.rules) }} {{ about.rules === 1 ? 'rule' : 'rules' }}</template
        >, {{ size }}.
      </p>
      <h3>Not included in this format</h3>
      <p v-if="about.cannot.length === 0" class="soft">Everything is included.</p>
      <ul v-else class="list">
        <li v-for="one in about.cannot" :key="one.code">
          {{ one.sentence }}
          <span v-if="one.count > 0" class="soft mono"
            >{{ one.subjects.slice(0, 4).join(', ')
            }}{{ one.count > 4 ? ` and ${number(one.count - Math.min(4, one.subjects.length))} more` : '' }}</span
          >
        </li>
      </ul>
      <template v-if="about.steps.length > 0">
        <h3>Installation</h3>
        <ol class="list">
          <li v-for="step in about.steps" :key="step">{{ step }}</li>
        </ol>
      </template>
    </template>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 16px;
  margin-top: 14px;
}
.list {
  padding-left: 18px;
  margin-bottom: 8px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
h3 {
  margin-top: 8px;
  font-size: 13px;
}
</style>
