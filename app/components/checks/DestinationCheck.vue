<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { readDestination } from '~~/core/address'
import type { CheckPreview } from '~~/core/schemas'

/** What a destination answers while a link is made: one sentence, with title and card to take over. */
const {
  destination,
  known = undefined,
  title = '',
  automatic = false,
} = defineProps<{
  /** An empty title is filled in with the page’s. */
  automatic?: boolean
  destination: string
  /** The destination the link has already; it need not be asked again. */
  known?: string
  title?: string
}>()
const emit = defineEmits<{ title: [title: string] }>()
/** How long a person waits for a check, in milliseconds. */
const MAX_WAIT_MS = 10_000
const checks = useChecksStore()
const seen = ref<CheckPreview>()
const asking = ref(false)
const problem = ref('')
const settled = refDebounced(
  computed(() => destination),
  700,
)
let under: AbortController | undefined
watch(
  settled,
  async (text) => {
    under?.abort()
    seen.value = undefined
    problem.value = ''
    asking.value = false
    if (text === known || !readDestination(text).ok || !/^https?:/i.test(text)) return
    const mine = (under = new AbortController())
    asking.value = true
    try {
      const answer = await checks.preview(text, AbortSignal.any([mine.signal, AbortSignal.timeout(MAX_WAIT_MS)]))
      if (!mine.signal.aborted) seen.value = answer
    } catch (error) {
      if (mine.signal.aborted) return
      problem.value =
        (error as Error).name === 'TimeoutError'
          ? 'The destination did not respond within 10 seconds. You can create the link; Fides checks it again later.'
          : `The destination could not be checked. ${(error as Error).message}`
    } finally {
      if (!mine.signal.aborted) asking.value = false
    }
  },
  { immediate: true },
)
// What stands there instead of the page has no title for it.
const offered = computed(() => (seen.value?.confidence === 'sound' ? seen.value.card?.title || seen.value.title : ''))
// An empty title is filled in with the page's.
watch(offered, (now) => now && automatic && title === '' && emit('title', now))
const more = computed(() =>
  [
    seen.value?.final && seen.value.final !== destination && `Ends at ${seen.value.final}.`,
    seen.value?.frames && !seen.value.frames.allowed && 'Cannot be shown in a frame.',
  ]
    .filter(Boolean)
    .join(' '),
)
</script>

<template>
  <div class="told" role="status">
    <p v-if="asking" class="soft">Checking the destination as a signed-out visitor…</p>
    <p v-else-if="problem" class="soft"><StateMark state="doubtful" /> {{ problem }}</p>
    <template v-else-if="seen">
      <p>
        <StateMark :state="seen.confidence" /> {{ seen.sentence }} <span class="soft more">{{ more }}</span>
      </p>
      <p v-if="offered && offered !== title && !automatic" class="card">
        <span class="soft">Page title:</span> “{{ offered }}”
        <span v-if="seen.card?.text" class="soft">· {{ seen.card.text }}</span>
        <VBtn size="small" variant="text" color="primary" @click="emit('title', offered)">Use as title</VBtn>
      </p>
    </template>
  </div>
</template>

<style scoped>
.told {
  font-size: 13px;
}
.told p {
  margin: 0;
}
.more,
.card {
  overflow-wrap: anywhere;
}
</style>
