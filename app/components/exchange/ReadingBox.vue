<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { COLUMN_FIELDS, type ColumnField } from '~~/core/formats/format'
import { FORMAT_NAMES } from '~~/core/formats/kinds'
import type { Intake, IntakeOptions } from '~~/core/schemas'

/** How a file is read: its kind, where it applied, which column holds what. Changing it reads the file anew. */
const { intake, busy } = defineProps<{ intake: Intake; busy: boolean }>()
const emit = defineEmits<{ read: [options: IntakeOptions] }>()
const domains = useDomainsStore()
const options = ref<IntakeOptions>({ ...intake.options })
watch(
  () => intake.version,
  () => (options.value = { ...intake.options }),
)
const TITLES: Record<ColumnField, string> = {
  address: 'Short address',
  domain: 'Domain',
  slug: 'Slug',
  destination: 'Destination',
  status: 'Status',
  title: 'Title',
  note: 'Note',
  owner: 'Owner',
  tags: 'Tags',
  startsAt: 'Start',
  endsAt: 'End',
  standing: 'Standing',
}
const kinds = Object.entries(FORMAT_NAMES).map(([value, title]) => ({ value, title }))
const kind = computed({
  get: () => options.value.format ?? intake.format,
  set: (format) => (options.value.format = format || undefined),
})
const isApache = computed(() => kind.value === 'apache')
const isTable = computed(() => kind.value === 'csv' && intake.sample.length > 0)
const width = computed(() => Math.max(0, ...intake.sample.map((row) => row.length)))
const columns = computed(() => options.value.columns ?? intake.columns)
const fieldOf = (at: number) => COLUMN_FIELDS.find((field) => columns.value[field] === at) ?? ''
function settle(at: number, field: string) {
  const kept = COLUMN_FIELDS.flatMap((one) => {
    const now = columns.value[one]
    return now === undefined || now === at || one === field ? [] : [[one, now] as const]
  })
  options.value.columns = Object.fromEntries(field ? [...kept, [field, at]] : kept)
}
const changed = computed(() => JSON.stringify(options.value) !== JSON.stringify(intake.options))
</script>

<template>
  <details class="reading">
    <summary>Import settings</summary>
    <div class="fields field-column">
      <VSelect v-model="options.domain" :items="domains.domains.map(({ host }) => host)" label="For addresses of" />
      <VSelect v-model="kind" :items="kinds" label="Kind of file" />
      <template v-if="isApache">
        <VSelect
          v-model="options.context"
          :items="[
            { value: 'folder', title: 'In a folder (.htaccess)' },
            { value: 'server', title: 'In the server’s configuration' },
          ]"
          label="Scope in the old server"
          hint="A pattern sees the path without its folder in the one, whole in the other"
          persistent-hint
        />
        <VTextField
          v-if="options.context !== 'server'"
          :model-value="options.base ?? '/'"
          label="The folder"
          class="mono"
          @update:model-value="options.base = $event === '/' ? undefined : $event"
        />
      </template>
      <VCheckbox
        v-model="options.everyHost"
        :label="`Bring addresses of every host to ${options.domain}`"
        density="compact"
        hide-details
      />
    </div>
    <div v-if="isTable" class="sample">
      <table>
        <thead>
          <tr>
            <th v-for="at in width" :key="at" scope="col">
              <select
                :value="fieldOf(at - 1)"
                :aria-label="`Column ${at} holds`"
                @change="settle(at - 1, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">not read</option>
                <option v-for="field in COLUMN_FIELDS" :key="field" :value="field">{{ TITLES[field] }}</option>
              </select>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in intake.sample" :key="index">
            <td v-for="at in width" :key="at" class="mono">{{ row[at - 1] }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <VBtn :disabled="!changed || busy" class="mt-2" @click="emit('read', options)">Apply settings</VBtn>
  </details>
</template>

<style scoped>
.reading {
  margin-bottom: 12px;
}
summary {
  min-height: 28px;
  cursor: pointer;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 4px 16px;
  max-width: 900px;
  margin-top: 8px;
}
.sample {
  overflow-x: auto;
  margin-top: 8px;
}
td,
th {
  max-width: 260px;
  padding: 2px 8px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 12px;
  text-align: left;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
select {
  min-height: 28px;
  background: rgb(var(--v-theme-surface));
  color: inherit;
  font: inherit;
}
</style>
