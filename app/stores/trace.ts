import { defineStore } from 'pinia'
import type { Trace } from '~~/core/schemas'

const useTraceStore = defineStore('trace', {
  state: () => ({ trace: undefined as Trace | undefined, loading: false, problem: '' }),
  actions: {
    async run(address: string, as: { method: string; at: string | null; acceptLanguage: string | null }) {
      this.loading = true
      this.problem = ''
      try {
        this.trace = await callApi<Trace>('/trace', {
          method: 'POST',
          body: { address, as: { ...as, acceptLanguage: as.acceptLanguage ?? '' } },
        })
      } catch (error) {
        this.trace = undefined
        this.problem = (error as Error).message
      } finally {
        this.loading = false
      }
    },
  },
})

export { useTraceStore }
