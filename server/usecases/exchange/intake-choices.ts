import type { IntakeDecision, IntakeKind } from '../../../core/schemas'

/**
 * Whether a row’s state is a rule’s. Within a string of JSON a quotation mark has a backslash before it, so that only a
 * key matches; reading the JSON takes five times as long.
 */
export const IS_RULE = `(LOCATE('"pattern":', r.state) > 0)`

/** What choices depend on, as the database gives it. */
export interface Decidable {
  kind: IntakeKind
  has_state: number
  is_rule: number
  link_version: number | null
}

/** What may be decided of a row. */
export function choicesOf({ kind, has_state, is_rule, link_version }: Decidable): IntakeDecision[] {
  if (!Number(has_state) || kind === 'refused' || kind === 'same') return []
  if (Number(is_rule)) return ['bring', 'leave']
  return link_version === null ? ['bring', 'paused', 'leave'] : ['replace', 'leave']
}
