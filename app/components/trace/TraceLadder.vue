<script setup lang="ts">
import { computed } from 'vue'
import type { Trace } from '~~/core/schemas'

/** What the gateway answers, step by step; `visitor` says who is answered and when, empty for a plain request now. */
const { trace, visitor = '' } = defineProps<{ trace: Trace; visitor?: string }>()
const asText = computed(() =>
  [
    `${trace.address} — ${trace.verdict.sentence} (revision ${trace.revision}, ${trace.at})`,
    ...(visitor ? [`As answered ${visitor}`] : []),
    ...trace.steps.map((step) => `${step.name}: ${[step.value, step.sentence].filter(Boolean).join(' · ')}`),
    ...(trace.onward?.hops ?? []).map((hop) => `Then: ${hop.status || hop.text} ${hop.url}`),
    ...trace.headers.map(([name, value]) => `  ${name}: ${value}`),
  ].join('\n'),
)
async function copy() {
  await navigator.clipboard.writeText(asText.value)
  useNotice().tell('Copied the trace as text')
}
const isStatus = (value: string) => /^\d{3}$/.test(value)
</script>

<template>
  <section aria-labelledby="trace-title">
    <h1 id="trace-title" class="mono address">{{ trace.address }}</h1>
    <p v-if="visitor" class="soft">As answered {{ visitor }}</p>
    <p class="verdict">
      <StateMark :state="trace.verdict.state" />{{ ' ' }}
      <b
        :class="{
          'text-sound': trace.verdict.state === 'sound',
          'text-doubtful': trace.verdict.state === 'doubtful',
          'text-broken': trace.verdict.state === 'broken',
        }"
        >{{ trace.verdict.sentence }}</b
      >
    </p>
    <ol class="ladder">
      <li v-for="step in trace.steps" :key="step.name">
        <StateMark :state="step.state" class="mark" />{{ ' ' }}
        <b class="name">{{ step.name }}</b>
        <div class="what">
          <RedirectChip v-if="isStatus(step.value)" :status="Number(step.value)" />
          <LongAddress v-else-if="/^https?:/.test(step.value)" :address="step.value" wrap />
          <ShortAddress v-else-if="step.name === 'Address as read'" :address="step.value" />
          <span v-else-if="step.name !== 'Found'" class="mono">{{ step.value }}</span>
          <NuxtLink v-else-if="trace.linkId" :to="`/links/${trace.linkId}`" class="mono link">{{
            step.value
          }}</NuxtLink>
          <span v-else class="mono">{{ step.value }}</span>
          <span class="soft sentence">{{ step.sentence }}</span>
        </div>
      </li>
    </ol>
    <slot />
    <h2 class="mt-5 mb-2">Fields we send</h2>
    <table class="fields mono">
      <tbody>
        <tr v-for="[name, value] in trace.headers" :key="name">
          <th scope="row">{{ name }}</th>
          <td>{{ value }}</td>
        </tr>
      </tbody>
    </table>
    <div class="d-flex flex-wrap ga-2 mt-5">
      <VBtn v-if="trace.linkId" :to="`/links/${trace.linkId}`">Open link</VBtn>
      <VBtn @click="copy">Copy as text</VBtn>
    </div>
  </section>
</template>

<style scoped>
.address,
.fields td {
  overflow-wrap: anywhere;
}
.verdict {
  margin: 4px 0 14px;
}
.ladder {
  list-style: none;
  padding: 0;
}
.ladder li {
  display: grid;
  grid-template-columns: 22px 140px 1fr;
  gap: 4px;
  align-items: baseline;
  padding: 9px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  min-width: 0;
}
.link {
  color: rgb(var(--v-theme-primary));
}
.fields {
  font-size: 13px;
}
.fields th {
  padding-right: 16px;
  text-align: left;
  vertical-align: top;
  font-weight: 500;
  color: rgb(var(--v-theme-soft));
}
@media (max-width: 600px) {
  .ladder li {
    grid-template-columns: 22px 1fr;
  }
  .what {
    grid-column: 2;
  }
}
</style>
