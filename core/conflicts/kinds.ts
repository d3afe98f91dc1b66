/** The findings of semantics §3, in the order they are told in. */
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
