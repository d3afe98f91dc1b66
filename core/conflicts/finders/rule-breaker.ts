import { breachesOf } from '../../slugs'
import type { Finder } from '../finder'
import type { SurveyState } from '../state'

/** Links whose slug breaks the rules of today and was not kept as an exception. */
export const ruleBreaker = (state: SurveyState): Finder<number> => ({
  phase: 'links',
  all: () => state.links.keys(),
  *affectedBy({ links, slugRules }) {
    yield* links
    if (slugRules.size > 0) for (const link of state.links.values()) if (slugRules.has(link.domainId)) yield link.id
  },
  *examine(id) {
    const link = state.links.get(id)
    if (!link || link.exception || !state.counts(link)) return
    const domain = state.domains.get(link.domainId)!
    const breaches = breachesOf(link.slug, domain.slugRules, domain.capitalsMatter)
    if (breaches.length === 0) return
    yield {
      kind: 'rule-breaker',
      key: `rule-breaker ${id}`,
      domainId: link.domainId,
      links: [id],
      rules: [],
      sentences: breaches.map(({ sentence }) => sentence),
    }
  },
})
