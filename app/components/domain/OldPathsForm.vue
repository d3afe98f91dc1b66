<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Domain, Link, OldPaths } from '~~/core/schemas'
import { useDraft } from '~/composables/useDraft'

const { domain } = defineProps<{ domain: Domain }>()
const store = useDomainStore()
const notice = useNotice()
const file = ref<File>()
const text = ref('')
const to = ref('')
useDraft(`old paths ${domain.id}`, { text, to }).resume()
const found = ref<OldPaths>()
type Row = OldPaths['items'][number] & { chosen: boolean; fault: string; made: boolean }
const rows = ref<Row[]>([])
const faults = ref<Record<string, string>>({})
const busy = ref(false)
const count = (number: number, thing: string) => `${number.toLocaleString('en')} ${thing}${number === 1 ? '' : 's'}`
const chosen = computed(() => rows.value.filter((row) => row.chosen && !row.made))

async function read() {
  busy.value = true
  faults.value = {}
  try {
    found.value = await store.readOldPaths(domain.id, file.value ?? text.value, to.value)
    rows.value = found.value.items.map((item) => ({
      ...item,
      chosen: !item.taken && item.destination !== '',
      fault: '',
      made: item.taken,
    }))
  } catch (error) {
    faults.value =
      error instanceof ApiProblem && Object.keys(error.fields).length > 0
        ? error.fields
        : { log: (error as Error).message }
  } finally {
    busy.value = false
  }
}
async function make() {
  busy.value = true
  let made = 0
  for (const row of chosen.value) {
    try {
      await callApi<Link>('/links', {
        method: 'POST',
        body: {
          domain: domain.host,
          slug: row.slug,
          destination: row.destination,
          note: `From the old website: ${row.path}`,
          reason: `It was an address of the old website: ${row.path}`,
        },
      })
      row.made = true
      row.fault = ''
      made++
    } catch (error) {
      row.fault = (error as Error).message
    }
  }
  busy.value = false
  notice.tell(
    `Made ${count(made, 'link')}${chosen.value.length > 0 ? `; ${chosen.value.length} could not be made` : ''}`,
  )
  await store.read(domain.id)
}
</script>

<template>
  <section class="form-page view field-column" aria-labelledby="old-title">
    <h2 id="old-title">From the old website</h2>
    <p class="soft">
      Upload the old web server’s access log to find paths of {{ domain.shown }} that people use. Create links for them
      before the website is switched off.
    </p>
    <form class="d-flex flex-column ga-3 field-column" novalidate @submit.prevent="read">
      <VFileInput v-model="file" label="Access log (Common or Combined Log Format)" />
      <VTextarea
        v-model="text"
        class="log"
        label="Or paste lines of it"
        rows="5"
        spellcheck="false"
        :disabled="file !== undefined && file !== null"
        :error-messages="faults.log"
      />
      <VTextField
        v-model="to"
        class="mono"
        label="New base address of the old pages"
        placeholder="https://www.portanseltransit.example"
        :error-messages="faults.to"
      />
      <VBtn type="submit" color="primary" variant="flat" class="align-self-start" :loading="busy">Read the log</VBtn>
    </form>
    <template v-if="found">
      <p role="status">
        {{ count(found.requests, 'page visit') }} in {{ count(found.lines, 'line')
        }}<template v-if="found.unread">; {{ count(found.unread, 'line') }} in no known format left out</template>.
      </p>
      <div class="scroll" tabindex="0" role="region" aria-label="Addresses of the old website">
        <table>
          <thead>
            <tr>
              <th scope="col">Make</th>
              <th scope="col">Path</th>
              <th scope="col" class="number">Visits</th>
              <th scope="col">Slug</th>
              <th scope="col">Destination</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.path">
              <td>
                <input
                  v-model="row.chosen"
                  type="checkbox"
                  :disabled="row.made"
                  :aria-label="`Make a link of ${row.path}`"
                />
              </td>
              <td class="mono">{{ row.path }}</td>
              <td class="number">{{ row.visits.toLocaleString('en') }}</td>
              <td>
                <span v-if="row.made" class="mono"
                  >{{ row.slug }} <span class="soft">{{ row.taken ? 'is a link already' : 'made' }}</span></span
                ><VTextField
                  v-else
                  v-model="row.slug"
                  class="mono field"
                  :aria-label="`Slug for ${row.path}`"
                  density="compact"
                />
              </td>
              <td>
                <span v-if="row.made" class="mono soft">{{ row.destination }}</span><VTextField
                  v-else
                  v-model="row.destination"
                  class="mono field"
                  :aria-label="`Destination for ${row.path}`"
                  density="compact"
                  :error-messages="row.fault"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <VBtn
        color="primary"
        variant="flat"
        class="align-self-start"
        :loading="busy"
        :disabled="chosen.length === 0"
        @click="make"
        >Make {{ count(chosen.length, 'link') }}</VBtn
      >
    </template>
  </section>
</template>

<style scoped>
.view {
  max-width: 980px;
}
.log :deep(textarea) {
  font-family: var(--fides-mono);
  font-size: 12.5px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-spacing: 0;
}
th,
td {
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  text-align: left;
  vertical-align: middle;
}
.number {
  text-align: right;
}
.field {
  min-width: 200px;
}
</style>
