<script setup lang="ts">
import { ref } from 'vue'
import type { LogReplay } from '~~/core/schemas'

/** An old server’s log put to the file: how many of its visitors would still land. */
const { intake } = defineProps<{ intake: number }>()
const exchange = useExchangeStore()
const chooser = ref<HTMLInputElement>()
const told = ref<LogReplay>()
const fault = ref('')
const busy = ref(false)
const number = (count: number) => count.toLocaleString('en')
async function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file || busy.value) return
  busy.value = true
  fault.value = ''
  try {
    told.value = await exchange.putLog(intake, file)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="box" aria-labelledby="log-title">
    <header class="head">
      <h2 id="log-title">Compare with the old server’s log</h2>
      <VSpacer />
      <VBtn size="small" :loading="busy" @click="chooser?.click()">{{ told ? 'Another' : 'Choose it' }}</VBtn>
    </header>
    <input ref="chooser" type="file" hidden aria-label="Access log" @change="chosen" />
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
    <p v-if="!told" class="soft">Upload its access log to see how many of its requests would be served here.</p>
    <div v-else role="status">
      <p>
        Of {{ number(told.landedThere) }} requests that landed there,
        <strong>{{ number(told.landedThere - told.lostHere) }}</strong> would land here.
      </p>
      <p v-if="told.unread > 0" class="soft">{{ number(told.unread) }} lines could not be read.</p>
      <template v-if="told.lost.length > 0">
        <p class="soft">Not served, most requested first:</p>
        <ul class="lost">
          <li v-for="one in told.lost.slice(0, 10)" :key="one.target">
            <span class="mono">{{ one.target }}</span> <span>{{ number(one.count) }}</span>
          </li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
.box {
  padding: 12px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.head {
  display: flex;
  align-items: center;
}
.lost {
  padding: 0;
  margin: 4px 0 0;
  list-style: none;
  font-size: 13px;
}
.lost li {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  overflow-wrap: anywhere;
}
</style>
