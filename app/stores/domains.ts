import { defineStore } from 'pinia'
import type { Domain, Preview } from '~~/core/schemas'

const useDomainsStore = defineStore('domains', {
  state: () => ({ domains: [] as Domain[], loaded: false, problem: '' }),
  getters: {
    byHost: (state) => (host: string) => state.domains.find((domain) => domain.host === host),
  },
  actions: {
    async load() {
      try {
        this.domains = (await callApi<{ items: Domain[] }>('/domains')).items
        this.loaded = true
        this.problem = ''
      } catch (error) {
        this.problem = (error as Error).message
      }
    },
    /** What a name is today and what bringing it here would take away. */
    preview: (host: string) => callApi<Preview>('/domains/preview', { method: 'POST', body: { host } }),
    async create(host: string, below: boolean) {
      const domain = await callApi<Domain>('/domains', { method: 'POST', body: { host, below } })
      this.domains.push(domain)
      return domain
    },
  },
})

export { useDomainsStore }
