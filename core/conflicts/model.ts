import type { SurveyDomain, SurveyLink, SurveyRule } from '../rows'
import type { Visitor } from '../conditions'
import type { ConflictKind } from './kinds'
/** A conflict as it is found: whom it is between, and what proves it. Told in words by `describeConflict`. */
export interface Conflict {
  kind: ConflictKind
  /** Stays the same as long as the same things are in conflict. */
  key: string
  domainId: number
  links: number[]
  rules: number[]
  /** A canonical slug of the domain that shows it; for a loop or chain, where it begins. */
  witness?: string
  /** The visitor the witness needs, where not just anybody shows it. */
  visitor?: Visitor
  /** Addresses passed, and where the way ends; for loops and chains. */
  via?: string[]
  end?: string
  endStatus?: number
  /** Why a slug breaks the rules; what sets a family's links apart. */
  sentences?: string[]
  /** How many there are in all, where `links` names the first ones only. */
  count?: number
}

/** Rows that changed, as they are now, and ids of those that are gone. */
export interface SurveyChange {
  domains?: readonly SurveyDomain[]
  /** Only domains without links and rules. */
  dropDomains?: readonly number[]
  links?: readonly SurveyLink[]
  dropLinks?: readonly number[]
  rules?: readonly SurveyRule[]
  dropRules?: readonly number[]
}

/** What a change did to the findings. */
export interface SurveyDiff {
  added: Conflict[]
  removed: Conflict[]
  /** Still there, but re-examined: members, witness or what they lead to may be others. */
  changed: { before: Conflict; now: Conflict }[]
}

export interface ScanProgress {
  phase: 'links' | 'look-alikes' | 'slips' | 'twins' | 'rules' | 'families' | 'ways'
  done: number
  total: number
}
