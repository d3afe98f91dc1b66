import { onScopeDispose, ref } from 'vue'
import type { ReplayRequest, ReplayView } from '~~/core/schemas'

const LOOK_MS = 600

/** Replays past requests and follows the progress while the page is open. */
export function useReplay() {
  const replay = ref<ReplayView>()
  const problem = ref('')
  let timer: ReturnType<typeof setTimeout> | undefined

  function follow() {
    clearTimeout(timer)
    const id = replay.value?.id
    if (id === undefined || replay.value?.state !== 'running') return
    timer = setTimeout(async () => {
      try {
        const now = await callApi<ReplayView>(`/replay/${id}`)
        if (replay.value?.id === id) replay.value = now
        problem.value = ''
      } catch (error) {
        problem.value = (error as Error).message
      }
      follow()
    }, LOOK_MS)
  }
  onScopeDispose(() => clearTimeout(timer))

  return {
    replay,
    problem,
    /** Starts a replay; false where others are under way, so that it may be tried again. */
    async start(request: Partial<ReplayRequest>): Promise<boolean> {
      problem.value = ''
      try {
        replay.value = await callApi<ReplayView>('/replay', { method: 'POST', body: request })
        follow()
      } catch (error) {
        problem.value = (error as Error).message
        return !(error instanceof ApiProblem && error.status === 429)
      }
      return true
    },
    async stop() {
      const id = replay.value?.id
      if (id === undefined) return
      await callApi(`/replay/${id}`, { method: 'DELETE' })
      const ended = await callApi<ReplayView>(`/replay/${id}`)
      // Another may have been started meanwhile.
      if (replay.value?.id === id) replay.value = ended
    },
    /** Lets go of what was told, as it is of something else now. */
    forget() {
      clearTimeout(timer)
      replay.value = undefined
      problem.value = ''
    },
  }
}
