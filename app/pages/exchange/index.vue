<script setup lang="ts">
import { INTAKE_STATES } from '~/composables/exchange-words'

useHead({ title: 'Exchange · Fides' })
const exchange = useExchangeStore()
const session = useSessionStore()
const { short } = useMoments()
void exchange.list()
</script>

<template>
  <div class="page">
    <h1>Exchange</h1>
    <div class="columns">
      <div class="side">
        <BringIn v-if="session.may('editor')" />
        <p v-else class="soft">You need the editor or administrator role to import files.</p>
        <QuickMark />
      </div>
      <div class="side">
        <TakeOut />
        <section aria-labelledby="late-title">
          <h2 id="late-title">Recent imports</h2>
          <VAlert v-if="exchange.problem" type="error" variant="tonal" density="compact">
            {{ exchange.problem }} <VBtn variant="text" @click="exchange.list()">Try again</VBtn>
          </VAlert>
          <p v-else-if="exchange.items.length === 0 && !exchange.loading" class="soft">
            No imports yet. A file stays here until you import or discard it, so a colleague can review it.
          </p>
          <ul v-else class="list">
            <li v-for="item in exchange.items" :key="item.id">
              <NuxtLink :to="`/exchange/${item.id}`" class="name">{{ item.name }}</NuxtLink>
              <span class="soft">
                <StateMark :state="INTAKE_STATES[item.state].state" /> {{ INTAKE_STATES[item.state].words
                }}<template v-if="item.formatName"> · {{ item.formatName }}</template
                ><template v-if="item.lines"> · {{ item.lines.toLocaleString('en') }} lines</template> ·
                {{ item.options.domain }} · {{ item.actor }}, {{ short(item.madeAt) }}
              </span>
            </li>
          </ul>
        </section>
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  max-width: 1300px;
  padding: 14px 20px 40px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-top: 12px;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 28px;
}
.list {
  padding: 0;
  margin: 8px 0 0;
  list-style: none;
}
.list li {
  display: flex;
  flex-direction: column;
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
}
.name {
  font-weight: 600;
  overflow-wrap: anywhere;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
