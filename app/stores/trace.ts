import { defineStore } from 'pinia'
import type { Trace } from '~~/core/schemas'

let wanted = 0

const useTraceStore = defineStore('trace', {
  state: () => ({
    trace: undefined as Trace | undefined,
    loading: false,
    /** Whether the way past our own answer is being asked for. */
    following: false,
    problem: '',
    /** Why it could not be gone on past our own answer. */
    wayProblem: '',
  }),
  actions: {
    /** Our own answer to another visitor or at another moment, to be compared. */
    once: (address: string, as: { method: string; at: string | null; acceptLanguage: string }) =>
      callApi<Trace>('/trace', { method: 'POST', body: { address, as, follow: false } }),
    /** Traces an address: our own answer at once, then the way past it, which others have to be asked for. */
    async run(address: string, as: { method: string; at: string | null; acceptLanguage: string | null }) {
      const mine = ++wanted
      this.loading = true
      this.following = false
      this.problem = ''
      this.wayProblem = ''
      const ask = (follow: boolean) =>
        callApi<Trace>('/trace', {
          method: 'POST',
          body: { address, as: { ...as, acceptLanguage: as.acceptLanguage ?? '' }, follow },
        })
      try {
        const trace = await ask(false)
        if (mine !== wanted) return
        this.trace = trace
        this.loading = false
        if (trace.location === null) return
        this.following = true
        const whole = await ask(true).catch((error: Error) => {
          if (mine === wanted) this.wayProblem = error.message
        })
        if (mine === wanted && whole) this.trace = whole
      } catch (error) {
        if (mine !== wanted) return
        this.trace = undefined
        this.problem = (error as Error).message
      } finally {
        if (mine === wanted) {
          this.loading = false
          this.following = false
        }
      }
    },
  },
})

export { useTraceStore }
