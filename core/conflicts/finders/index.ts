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

/** Every finder, in the order a full scan runs them; a new one is its file and its line here. */
export const FINDERS: readonly ((state: SurveyState) => Finder<number> | Finder<string>)[] = [
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
