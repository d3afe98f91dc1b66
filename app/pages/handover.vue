<script setup lang="ts">
import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { DateTime } from 'luxon'
import { computed, ref } from 'vue'
import type { HandoverPage } from '~~/core/schemas'

// For the person who keeps a zone: which records to place, and whether they have arrived. It needs no account.
definePageMeta({ layout: 'bare' })
useHead({ title: 'Records to place · Fides', meta: [{ name: 'referrer', content: 'no-referrer' }] })
const route = useRoute()
const store = useDomainStore()
const told = ref<HandoverPage>()
const problem = ref('')
const LOOK_MS = 10_000
const visibility = useDocumentVisibility()

async function read() {
  try {
    told.value = await store.readHandoverPage(String(route.query.key ?? ''))
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  }
}
void read()
useIntervalFn(() => visibility.value === 'visible' && read(), LOOK_MS)

const SIGHT_WORDS: Record<string, string> = {
  new: 'has it',
  old: 'has another value',
  absent: 'does not have it yet',
  silent: 'does not answer',
  faulty: 'answers wrongly',
}
const arrived = computed(() => told.value?.records.filter((record) => record.arrived).length ?? 0)
const isDone = computed(() => told.value !== undefined && arrived.value === told.value.records.length)
const looked = computed(() =>
  told.value?.lookedAt ? DateTime.fromISO(told.value.lookedAt).toFormat('ccc d LLL yyyy, HH:mm ZZZZ') : '',
)
</script>

<template>
  <VMain>
    <div id="main" class="page">
      <template v-if="told">
        <h1>
          Records for <span class="mono">{{ told.host }}</span>
        </h1>
        <p>
          {{ told.organisation }} would like to use this name for short links. Place these records in the zone
          <b class="mono">{{ told.zone }}</b> and leave all others as they are.
        </p>
        <p class="state" role="status">
          <b :class="isDone ? 'text-sound' : 'text-doubtful'"
            ><StateMark :state="isDone ? 'sound' : 'doubtful'" />
            {{
              isDone
                ? 'All records have arrived. Nothing is left to do.'
                : `${arrived} of ${told.records.length} records have arrived`
            }}</b
          >
          <span class="soft">{{
            looked
              ? ` Last checked ${looked}. This page updates automatically.`
              : ' Not checked yet. This page updates automatically.'
          }}</span>
        </p>
        <ul class="records">
          <li v-for="record in told.records" :key="record.name + record.type + record.data">
            <StateMark :state="record.arrived ? 'sound' : 'doubtful'" />
            <dl>
              <dt>Type</dt>
              <dd class="mono">{{ record.type }}</dd>
              <dt>Name</dt>
              <dd class="mono">
                {{ record.forms.relative }} <span class="soft">({{ record.forms.absolute }})</span>
              </dd>
              <dt>Value</dt>
              <dd class="mono value">{{ record.data }} <CopyText :text="record.data" what="value" /></dd>
              <dt>TTL</dt>
              <dd class="mono">{{ record.ttl }}</dd>
              <template v-for="{ server, sight } in record.seen" :key="server">
                <dt class="mono">{{ server }}</dt>
                <dd>{{ sight === null ? 'not asked yet' : SIGHT_WORDS[sight] }}</dd>
              </template>
            </dl>
          </li>
        </ul>
      </template>
      <template v-else-if="problem">
        <h1>Records to place</h1>
        <VAlert type="warning" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
      </template>
      <p v-else class="soft" role="status">Loading…</p>
    </div>
  </VMain>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  gap: 14px;
  max-width: 760px;
  margin-inline: auto;
  padding: 28px 20px;
}
.records {
  padding: 0;
  list-style: none;
}
.records > li {
  display: flex;
  gap: 8px;
  padding: 12px 0;
  border-top: 1px solid rgb(var(--v-theme-rule));
}
dl {
  display: grid;
  flex: 1;
  grid-template-columns: minmax(60px, auto) minmax(0, 1fr);
  gap: 2px 14px;
  min-width: 0;
}
dt {
  color: rgb(var(--v-theme-soft));
  overflow-wrap: anywhere;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  dl {
    grid-template-columns: minmax(0, 1fr);
  }
  dd {
    padding-bottom: 4px;
  }
}
</style>
