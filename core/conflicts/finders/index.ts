import type { Finder } from '../finder'
import type { SurveyState } from '../state'
import { family } from './family'
import { lookAlike } from './look-alike'
import { oneSlip } from './one-slip'
import { ruleBreaker } from './rule-breaker'
import { rules } from './rules'
import { sameAddress } from './same-address'
import { twins } from './twins'
import { waysOfDomains, waysOfLinks, waysOfRules } from './ways'

/** Makes a finder of a state. */
export type FinderOf = (state: SurveyState) => Finder<number> | Finder<string>

/** Every finder, in the order a full scan runs them; a new one is its file and its line here. */
export const FINDERS: readonly FinderOf[] = [
  sameAddress,
  ruleBreaker,
  lookAlike,
  oneSlip,
  twins,
  rules,
  family,
  waysOfLinks,
  waysOfRules,
  waysOfDomains,
]

/**
 * Those that decide whether rows may come in: remarks on twins, and slugs that the rules of today would not have, are
 * told elsewhere.
 */
export const CLASH_FINDERS = FINDERS.filter((finder) => finder !== twins && finder !== ruleBreaker)

export { twins }
