import { defineStore } from 'pinia'
import type { PatternTested, Rule } from '~~/core/schemas'

/** The rules of the domain in hand, in the order they are asked. */
const useRulesStore = defineStore('rules', {
  state: () => ({ domain: '', rules: [] as Rule[], loaded: false, problem: '' }),
  actions: {
    async load(domain: string) {
      if (domain !== this.domain) this.$reset()
      this.domain = domain
      try {
        const { items } = await callApi<{ items: Rule[] }>('/rules', { query: { domain } })
        if (this.domain !== domain) return
        this.rules = items
        this.loaded = true
        this.problem = ''
      } catch (error) {
        this.problem = (error as Error).message
      }
    },
    async save(rule: Rule | undefined, body: object): Promise<Rule> {
      const saved = rule
        ? await callApi<Rule>(`/rules/${rule.id}`, { method: 'PATCH', version: rule.version, body })
        : await callApi<Rule>('/rules', { method: 'POST', body: { domain: this.domain, ...body } })
      await this.load(this.domain)
      return saved
    },
    async remove(rule: Rule) {
      await callApi(`/rules/${rule.id}`, { method: 'DELETE', version: rule.version })
      await this.load(this.domain)
    },
    /** Puts the rules in another order; shown at once, taken back where it is refused. */
    async reorder(order: number[], reason?: string) {
      const was = this.rules.map((rule) => rule.id)
      const before = this.rules
      this.rules = order.map((id) => before.find((rule) => rule.id === id)!)
      try {
        this.rules = (
          await callApi<{ items: Rule[] }>('/rules/reorder', {
            method: 'POST',
            body: { domain: this.domain, order, was, ...(reason && { reason }) },
          })
        ).items
      } catch (error) {
        this.rules = before
        if (error instanceof ApiProblem && error.status === 412) await this.load(this.domain)
        throw error
      }
    },
    test: (
      asked: { domain: string; rules: object[]; addresses: string[]; acceptLanguage: string },
      signal?: AbortSignal,
    ) => callApi<PatternTested>('/patterns/test', { method: 'POST', body: asked, signal }),
  },
})

export { useRulesStore }
