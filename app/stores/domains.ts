import { defineStore } from 'pinia'
import type { Domain } from '~~/core/schemas'

const useDomainsStore = defineStore('domains', {
  state: () => ({ domains: [] as Domain[] }),
  getters: {
    byHost: (state) => (host: string) => state.domains.find((domain) => domain.host === host),
  },
  actions: {
    async load() {
      this.domains = (await callApi<{ items: Domain[] }>('/domains')).items
    },
    async create(host: string, standing: 'open' | 'not-proved') {
      const domain = await callApi<Domain>('/domains', { method: 'POST', body: { host, standing } })
      this.domains.push(domain)
      return domain
    },
  },
})

export { useDomainsStore }
