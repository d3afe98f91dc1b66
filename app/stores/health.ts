import { defineStore } from 'pinia'
import { ref } from 'vue'

/** So often is it asked whether what the desk shows is as things are now. */
const EVERY_MS = 20_000

/** What the installation says of itself: sentences on what is not up to date. */
export const useHealthStore = defineStore('health', () => {
  const stale = ref<string[]>([])
  let timer: ReturnType<typeof setInterval> | undefined

  async function ask(): Promise<void> {
    try {
      const answer = await fetch('/api/v1/health', { signal: AbortSignal.timeout(5000) })
      const { status, stale: told } = (await answer.json()) as { status: string; stale?: string[] }
      // Without a session the answer says that something is wrong, but not what.
      stale.value = told ?? (status === 'ok' ? [] : ['Part of Fides is not working.'])
    } catch {
      stale.value = ['The server is not responding. This page shows the last data received.']
    }
  }

  /** Asks now and from then on, as long as a page is open. */
  function follow(): void {
    if (timer !== undefined) return
    void ask()
    timer = setInterval(() => document.visibilityState === 'visible' && void ask(), EVERY_MS)
  }
  return { stale, ask, follow }
})
