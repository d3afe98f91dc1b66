import type { SlugRules } from '../slugs'
import type { DomainRow, LinkRow, RuleRow } from '../table'

/** The findings of semantics §3. */
export const CONFLICT_KINDS = [
  'same-address',
  'look-alike',
  'one-slip',
  'hidden',
  'overlapping',
  'loop',
  'chain',
  'twins',
  'rule-breaker',
] as const
export type ConflictKind = (typeof CONFLICT_KINDS)[number]

export interface SurveyDomain extends DomainRow {
  slugRules: SlugRules
}

/** A link or a forwarding slug. One without a canonical slug was merged or ended in favour of another. */
export interface SurveyLink extends Omit<LinkRow, 'canonical'> {
  canonical: string | null
  /** Kept although it breaks a slug rule. */
  exception: boolean
  visits28: number
}

export interface SurveyRule extends RuleRow {
  active: boolean
  visits28: number
}

/** A conflict as it is found: whom it is between, and what proves it. Told in words by `tellConflict`. */
export interface Conflict {
  kind: ConflictKind
  /** Stays the same as long as the same things are in conflict. */
  key: string
  domainId: number
  links: number[]
  rules: number[]
  /** A canonical slug of the domain that shows it; for a loop or chain, where it begins. */
  witness?: string
  /** The query the witness needs. */
  query?: string
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
