<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { isPermanent } from '~~/core/rows/redirect-status'
import type { Link, LinkHolders } from '~~/core/schemas'

/** Before a permanent link gets another destination: who would go on to the old one, and how to have nobody do so. */
const { link, destination } = defineProps<{ link: Link; destination: string }>()
const emit = defineEmits<{ planned: [] }>()
const store = useLinkStore()
const { short } = useMoments()
const holders = ref<LinkHolders>()
const planning = ref(false)
const fault = ref('')
onMounted(async () => {
  if (isPermanent(link.status)) holders.value = await store.holders(link.id).catch(() => undefined)
})
async function plan() {
  planning.value = true
  fault.value = ''
  try {
    const made = await store.temporaryFirst(link, destination)
    useNotice().tell(`Temporary now; new destination from ${short(made.at!)}`)
    emit('planned')
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    planning.value = false
  }
}
</script>

<template>
  <div v-if="holders?.ifChanged" class="warning-notice" role="status">
    <p>
      <StateMark state="doubtful" /> This redirect is permanent. If you save, the browsers of about
      <b>{{ holders.ifChanged.holders.toLocaleString('en') }}</b>
      {{ holders.ifChanged.holders === 1 ? 'person' : 'people' }} may keep using the old destination<template
        v-if="holders.ifChanged.until"
      >
        until {{ short(holders.ifChanged.until) }}</template
      >.
    </p>
    <p v-if="holders.elsewhere">
      This link was imported from a server that redirected permanently. How many browsers still cache that redirect, and
      for how long, is unknown.
    </p>
    <p class="soft">
      Temporary first: the redirect becomes temporary now. When no browser can still cache the old one, Fides sets the
      new destination and makes it permanent again.
    </p>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
    <VBtn class="mt-1" :loading="planning" @click="plan">Temporary first</VBtn>
  </div>
</template>
