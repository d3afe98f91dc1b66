import { refDebounced } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import type { RulesPreviewed } from '~~/core/schemas'

const PAUSE_MS = 400

/** What rules would do, asked anew a moment after they changed; nothing is asked while there is nothing to ask. */
export function useRulesPreview(asked: Ref<{ domain: string; rules: object[]; mine?: number } | undefined>) {
  const store = useRulesStore()
  const preview = ref<RulesPreviewed>()
  const problem = ref('')
  const busy = ref(false)
  let asking: AbortController | undefined
  // Only what differs as text is asked anew.
  const text = refDebounced(
    computed(() => (asked.value ? JSON.stringify(asked.value) : '')),
    PAUSE_MS,
  )
  watch(
    text,
    async (now) => {
      asking?.abort()
      const own = (asking = new AbortController())
      busy.value = now !== ''
      if (now === '') {
        preview.value = undefined
        problem.value = ''
        return
      }
      try {
        const answer = await store.preview(JSON.parse(now) as never, own.signal)
        if (own.signal.aborted) return
        preview.value = answer
        problem.value = ''
      } catch (error) {
        if (own.signal.aborted) return
        preview.value = undefined
        const [fault] = error instanceof ApiProblem ? Object.values(error.fields) : []
        problem.value = fault ?? (error as Error).message
      }
      busy.value = false
    },
    { immediate: true },
  )
  onScopeDispose(() => asking?.abort())
  return { preview, problem, busy }
}
