import { defineStore } from 'pinia'
import type { PatternTested, Rule, RuleFinding, RulesPreviewed } from '~~/core/schemas'

/** The rules of the domain in hand, in the order they are asked. */
const useRulesStore = defineStore('rules', {
  state: () => ({
    domain: '',
    rules: [] as Rule[],
    /** Rules that never apply or overlap, as they are saved. */
    findings: [] as RuleFinding[],
    /** Another order that is not saved yet. */
    wanted: undefined as number[] | undefined,
    loaded: false,
    problem: '',
  }),
  getters: {
    /** The rules in the order that is shown: the one wanted, as long as it names each of them. */
    ordered({ rules, wanted }): Rule[] {
      if (!wanted || wanted.length !== rules.length) return rules
      const byId = new Map(rules.map((rule) => [rule.id, rule]))
      const order = wanted.flatMap((id) => byId.get(id) ?? [])
      return order.length === rules.length ? order : rules
    },
    /** Whether the order shown is another than the one saved. */
    isMoved(): boolean {
      return this.ordered.some((rule, index) => rule.id !== this.rules[index]!.id)
    },
  },
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
        await this.loadFindings()
      } catch (error) {
        this.problem = (error as Error).message
      }
    },
    async loadFindings() {
      const { domain } = this
      try {
        const { items } = await callApi<{ items: RuleFinding[] }>('/rules/findings', { query: { domain } })
        if (this.domain === domain) this.findings = items
      } catch (error) {
        if (this.domain === domain) this.problem = (error as Error).message
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
    /** Saves the order shown; where somebody else saved another meanwhile, that is loaded and ours stays shown. */
    async saveOrder(reason: string) {
      const was = this.rules.map((rule) => rule.id)
      const order = this.ordered.map((rule) => rule.id)
      try {
        this.rules = (
          await callApi<{ items: Rule[] }>('/rules/reorder', {
            method: 'POST',
            body: { domain: this.domain, order, was, ...(reason && { reason }) },
          })
        ).items
        this.wanted = undefined
        await this.loadFindings()
      } catch (error) {
        if (error instanceof ApiProblem && error.status === 412) await this.load(this.domain)
        throw error
      }
    },
    /** What rules would do, in an order; `mine` is the one in question, counted from 1. */
    preview: (asked: { domain: string; rules: object[]; mine?: number }, signal?: AbortSignal) =>
      callApi<RulesPreviewed>('/rules/preview', { method: 'POST', body: asked, signal }),
    test: (
      asked: { domain: string; rules?: object[]; addresses: string[]; acceptLanguage: string },
      signal?: AbortSignal,
    ) => callApi<PatternTested>('/patterns/test', { method: 'POST', body: asked, signal }),
  },
})

/** How long after the last change rules are compared, in milliseconds. */
const PREVIEW_MS = 400

export { PREVIEW_MS, useRulesStore }
