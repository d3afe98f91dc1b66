<script setup lang="ts">
import { computed } from 'vue'
import type { Trace } from '~~/core/schemas'
import { listed } from '~~/core/text/listed'

/** Two answers to one address beside each other; `names` says who was answered and when. */
const { traces, names } = defineProps<{ traces: [Trace, Trace]; names: [string, string] }>()

const foundBy = ({ steps }: Trace) => steps.find(({ name }) => name === 'Found')?.value ?? ''
const rows = computed(() => {
  const told = (name: string, of: (trace: Trace) => string) => ({ name, values: traces.map(of) })
  return [
    told('Status', ({ status }) => String(status)),
    told('Location', ({ location }) => location ?? '—'),
    told('Answered by', (trace) => foundBy(trace) || trace.verdict.sentence),
  ].map((row) => ({ ...row, differs: row.values[0] !== row.values[1] }))
})
const differing = computed(() => rows.value.filter(({ differs }) => differs).map(({ name }) => name.toLowerCase()))
const sentence = computed(() =>
  differing.value.length === 0 ? 'Both get the same answer.' : `They differ in ${listed(differing.value)}.`,
)
</script>

<template>
  <section class="comparison" aria-labelledby="comparison-title">
    <h2 id="comparison-title">Compared</h2>
    <p role="status">
      <StateMark :state="differing.length === 0 ? 'sound' : 'doubtful'" /> <b>{{ sentence }}</b>
    </p>
    <table>
      <thead>
        <tr>
          <td />
          <th v-for="(name, index) in names" :key="index" scope="col">{{ name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name" :class="{ differs: row.differs }">
          <th scope="row">{{ row.name }}</th>
          <td v-for="(value, index) in row.values" :key="index" :data-of="names[index]">
            <span class="mono">{{ value }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.comparison {
  margin-bottom: 20px;
  padding: 12px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
}
table {
  width: 100%;
  margin-top: 8px;
  table-layout: fixed;
  border-spacing: 0;
}
th,
td {
  padding: 4px 12px 4px 0;
  border-top: 1px solid rgb(var(--v-theme-rule));
  text-align: left;
  vertical-align: top;
  overflow-wrap: anywhere;
}
thead th,
thead td {
  border-top: 0;
}
tr > :first-child {
  width: 100px;
  font-weight: 400;
}
@media (max-width: 700px) {
  /* One below the other: a destination is not broken into single letters. */
  thead {
    display: none;
  }
  tbody tr,
  tbody th,
  tbody td {
    display: block;
    width: auto;
  }
  tbody tr > th:first-child {
    width: auto;
    font-weight: 700;
  }
  tbody td {
    border-top: 0;
  }
  tbody td::before {
    display: block;
    content: attr(data-of);
    color: rgb(var(--v-theme-soft));
    font-size: 12px;
  }
}
.differs td {
  background: rgb(var(--v-theme-tint-warning));
}
</style>
