<script setup lang="ts">
import { ref } from 'vue'
import type { PlanView } from '~~/core/schemas'

defineProps<{ plan: PlanView }>()
const FORMS = [
  { value: 'relative', title: 'within the zone (@)' },
  { value: 'plain', title: 'whole' },
  { value: 'absolute', title: 'whole, with dot' },
] as const
const form = ref<(typeof FORMS)[number]['value']>('relative')

/** Where the name is asked for whole with its dot, a name in the data is given so as well. */
const value = (record: PlanView['records'][number]) =>
  record.type === 'CNAME' && form.value !== 'absolute' ? record.data.replace(/\.$/, '') : record.data
</script>

<template>
  <div>
    <VSelect v-model="form" class="form mb-2" :items="FORMS" label="Names as the provider’s form asks for them" />
    <div class="scroll" tabindex="0" role="region" aria-label="Records to place">
      <table>
        <thead>
          <tr>
            <th scope="col">Type</th>
            <th scope="col">Name</th>
            <th scope="col">Value</th>
            <th scope="col">TTL</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="record in plan.records" :key="record.name + record.type + record.data">
            <td class="mono">{{ record.type }}</td>
            <td>
              <span class="mono">{{ record.forms[form] }}</span>{{ ' ' }}
              <CopyText :text="record.forms[form]" what="name" />
            </td>
            <td class="value">
              <span class="mono">{{ value(record) }}</span>{{ ' ' }}
              <CopyText :text="value(record)" what="value" />
            </td>
            <td>
              <span class="mono">{{ record.ttl }}</span>{{ ' ' }}
              <CopyText :text="String(record.ttl)" :what="`TTL of ${record.type}`" />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.form {
  max-width: 300px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-spacing: 0;
}
th {
  padding: 4px 10px 4px 0;
  color: rgb(var(--v-theme-soft));
  font-size: 12px;
  text-align: left;
}
td {
  padding: 5px 10px 5px 0;
  border-top: 1px solid rgb(var(--v-theme-rule));
  vertical-align: top;
}
td:not(.value) {
  white-space: nowrap;
}
.value {
  overflow-wrap: anywhere;
  min-width: 180px;
}
</style>
