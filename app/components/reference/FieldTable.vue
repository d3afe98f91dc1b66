<script setup lang="ts">
import type { Field } from '~/composables/reference'

/** Fields of a request or an answer. */
defineProps<{ fields: readonly Field[]; caption: string; whereTold?: boolean }>()
</script>

<template>
  <div class="wide">
    <table>
      <caption>
        {{
          caption
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">Field</th>
          <th v-if="whereTold" scope="col">Where</th>
          <th scope="col">What it is</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="field in fields" :key="`${field.where} ${field.name}`">
          <th scope="row" class="mono">{{ field.name }}</th>
          <td v-if="whereTold">{{ field.where }}{{ field.required ? ', needed' : '' }}</td>
          <td>
            <span class="mono">{{ field.words }}</span>
            <span v-if="field.note" class="soft note">{{ field.note }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
caption {
  padding-top: 8px;
  font-weight: 700;
  text-align: left;
}
th,
td {
  padding: 3px 16px 3px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
  text-align: left;
  vertical-align: top;
}
thead th {
  color: rgb(var(--v-theme-soft));
  font-size: 12px;
  font-weight: 400;
}
tbody th {
  font-weight: 600;
}
/* Spaces between elements that stand on lines of their own are not kept. */
.note {
  margin-left: 8px;
}
td:last-child {
  overflow-wrap: anywhere;
}
</style>
