import { defineStore } from 'pinia'
import type { ForgivenessReport, SlugRulesReview, SlugRulesView } from '~~/core/schemas'

/** The slug rules of the domain in hand, and what forgiveness does there. */
const useSlugRulesStore = defineStore('slug-rules', {
  state: () => ({
    domainId: 0,
    rules: undefined as SlugRulesView | undefined,
    report: undefined as ForgivenessReport | undefined,
    problem: '',
  }),
  actions: {
    async load(domainId: number) {
      if (domainId !== this.domainId) this.$reset()
      this.domainId = domainId
      try {
        const rules = await callApi<SlugRulesView>(`/domains/${domainId}/slug-rules`)
        if (this.domainId !== domainId) return
        this.rules = rules
        this.problem = ''
        const report = await callApi<ForgivenessReport>(`/domains/${domainId}/forgiveness`)
        if (this.domainId === domainId) this.report = report
      } catch (error) {
        if (this.domainId === domainId) this.problem = (error as Error).message
      }
    },
    review(body: object, signal?: AbortSignal) {
      return callApi<SlugRulesReview>(`/domains/${this.domainId}/slug-rules`, {
        method: 'PUT',
        query: { dryRun: 1 },
        body,
        signal,
      })
    },
    async save(version: number, body: object) {
      this.rules = await callApi<SlugRulesView>(`/domains/${this.domainId}/slug-rules`, {
        method: 'PUT',
        version,
        body,
      })
      void useDomainsStore().load()
      return this.rules
    },
  },
})

export { useSlugRulesStore }
