import { refDebounced } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'

/**
 * The answer to the latest question: asked once the question has not changed for `pauseMs`, and dropped where another
 * came meanwhile. Nothing is asked while there is none. Questions are compared as JSON.
 */
export function useLatest<Question extends object, Answer>(
  question: Ref<Question | undefined>,
  ask: (question: Question, signal: AbortSignal) => Promise<Answer>,
  pauseMs: number,
) {
  const answer = shallowRef<Answer>()
  const error = shallowRef<Error>()
  const busy = ref(false)
  let asking: AbortController | undefined
  const text = refDebounced(
    computed(() => (question.value ? JSON.stringify(question.value) : '')),
    pauseMs,
  )
  watch(
    text,
    async (now) => {
      asking?.abort()
      const own = (asking = new AbortController())
      busy.value = now !== ''
      if (now === '') {
        answer.value = undefined
        error.value = undefined
        return
      }
      try {
        const told = await ask(JSON.parse(now) as Question, own.signal)
        if (own.signal.aborted) return
        answer.value = told
        error.value = undefined
      } catch (thrown) {
        if (own.signal.aborted) return
        answer.value = undefined
        error.value = thrown as Error
      }
      busy.value = false
    },
    { immediate: true },
  )
  onScopeDispose(() => asking?.abort())
  return { answer, error, busy }
}

/** What to say of a refusal: what is wrong with a field, where it tells one. */
export const faultOf = (error: Error | undefined): string =>
  error === undefined
    ? ''
    : ((error instanceof ApiProblem ? Object.values(error.fields)[0] : undefined) ?? error.message)
