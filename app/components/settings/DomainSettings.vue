<script setup lang="ts">
import { ref } from 'vue'
import { isOpenStanding } from '~~/core/schemas'

const domains = useDomainsStore()
const host = ref('')
const fault = ref('')
const busy = ref(false)

async function add() {
  busy.value = true
  fault.value = ''
  try {
    const domain = await domains.create(host.value, 'open')
    useNotice().tell(`Added ${domain.shown}`)
    host.value = ''
  } catch (error) {
    fault.value = error instanceof ApiProblem ? (error.fields.host ?? error.message) : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section aria-labelledby="domains-title">
    <h2 id="domains-title" class="mb-2">Domains</h2>
    <ul class="ruled-list">
      <li v-for="domain in domains.domains" :key="domain.id">
        <StateMark :state="isOpenStanding(domain.standing) ? 'live' : 'waiting'" />
        <span class="mono">{{ domain.shown }}</span>
        <span class="soft">{{ isOpenStanding(domain.standing) ? 'open' : 'not open yet: its links wait' }}; capitals {{ domain.capitalsMatter ? 'matter' : 'do not matter' }}; usually {{ domain.defaultStatus }}</span>
      </li>
    </ul>
    <form class="add" novalidate @submit.prevent="add">
      <VTextField v-model="host" label="Add a domain" class="mono" placeholder="ansl.example" :error-messages="fault" hint="Its name must already lead to this gateway." persistent-hint />
      <VBtn type="submit" height="40" :loading="busy">Add</VBtn>
    </form>
  </section>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  padding: 6px 0;
}
.add {
  display: flex;
  gap: 8px;
  max-width: 460px;
  margin-top: 12px;
}
</style>
