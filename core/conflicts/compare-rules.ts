import { PatternFault, relate, type Comparison, type Family } from '../patterns'
import type { SurveyRule } from '../rows'
import type { SurveyState } from './state'

/** So many comparisons of pairs are remembered. */
const MAX_COMPARISONS = 200_000

/** The text every path of each of a domain's active rules begins with, in their order. */
export const prefixesOf = (state: SurveyState, domainId: number): string[] =>
  // A slash at the end of a prefix may go unspelled.
  state.table.domains.get(domainId)!.rules.rules.map(({ prefix }) => prefix.replace(/\/$/, ''))

/** Whether rules whose paths begin so can share an address at all. */
export const mayMeet = (a: string, b: string): boolean => a.startsWith(b) || b.startsWith(a)

/** How two rules of a family stand to each other by their patterns; undefined where they are too involved. */
export function compareRules(
  state: SurveyState,
  family: Family,
  rules: readonly SurveyRule[],
  a: number,
  b: number,
): Comparison | undefined {
  const { capitalsMatter, trailingSlashMatters } = family.sameness
  const side = (rule: SurveyRule) => `${rule.syntax}\n${rule.pattern}\n${rule.except.join(' ')}`
  const key = `${capitalsMatter}${trailingSlashMatters}\n${side(rules[a]!)}\n${side(rules[b]!)}`
  let known = state.comparisons.get(key)
  if (!known) {
    try {
      known = relate(family, a, b)
    } catch (error) {
      if (error instanceof PatternFault) return undefined
      throw error
    }
    if (state.comparisons.size > MAX_COMPARISONS) state.comparisons.clear()
    state.comparisons.set(key, known)
  }
  return known
}
