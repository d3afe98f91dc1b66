import { destinationKey } from '../address'
import { NOBODY } from '../conditions'
import type { SurveyLink, SurveyRule } from '../rows'
import type { SurveyState } from './state'

/** The rule that would serve a canonical slug asked for plainly, were there no link. */
export function servingRule(
  state: SurveyState,
  domainId: number,
  canonical: string,
): { rule: SurveyRule; location: string } | undefined {
  const index = state.table.domains.get(domainId)?.rules
  for (const compiled of index?.candidates(canonical) ?? []) {
    if (!compiled.plain) continue
    const entry = compiled.take(canonical, NOBODY, index!.rivals(canonical))
    if (entry) return { rule: state.rules.get(compiled.row.id)!, location: entry.destination }
  }
  return undefined
}

/** The rule that would serve a link's address, where it would lead elsewhere than the link does. */
export function rivalRule(state: SurveyState, link: SurveyLink): SurveyRule | undefined {
  if (!state.counts(link)) return undefined
  const serving = servingRule(state, link.domainId, link.canonical!)
  return serving &&
    serving.location !== link.destination &&
    destinationKey(serving.location) !== destinationKey(link.destination)
    ? serving.rule
    : undefined
}
