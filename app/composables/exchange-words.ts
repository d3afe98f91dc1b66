import type { Intake, IntakeDecision, IntakeRow } from '~~/core/schemas'

type State = 'sound' | 'doubtful' | 'broken' | 'idle' | 'ended'

/** How a file stands, in a few words with its mark. */
export const INTAKE_STATES: Record<Intake['state'], { words: string; state: State }> = {
  reading: { words: 'Being read', state: 'idle' },
  ready: { words: 'Nothing is written yet', state: 'idle' },
  applying: { words: 'Being brought in', state: 'idle' },
  applied: { words: 'Brought in', state: 'sound' },
  withdrawn: { words: 'Let go', state: 'ended' },
  failed: { words: 'Could not be read', state: 'broken' },
}

/** What may be decided of a row, in words. */
export const INTAKE_DECISION_WORDS: Record<IntakeDecision, string> = {
  bring: 'Bring in',
  paused: 'Bring in paused',
  replace: 'Take the file’s',
  leave: 'Leave out',
}

/** A decision as one row offers it: what stays where a link is there already is ours. */
export const decisionWords = (row: IntakeRow, decision: IntakeDecision): string =>
  decision === 'leave' && row.link !== null ? 'Keep ours' : INTAKE_DECISION_WORDS[decision]

/** What a row comes to: its mark, and the sentence. */
export function foundOf(row: IntakeRow): { words: string; state: State } {
  if (row.kind === 'refused') return { words: row.why, state: 'broken' }
  if (row.kind === 'clash') return { words: row.why, state: 'doubtful' }
  if (row.kind === 'same') return { words: row.why, state: 'idle' }
  if (row.check && row.check.confidence !== 'sound') return { words: row.check.sentence, state: row.check.confidence }
  const answers = row.check ? 'Its destination answers' : ''
  return { words: row.why || answers, state: 'sound' }
}

/** What is brought in, as the button says it. */
export function bringWords({ bring, rules, replace }: Intake['counts']): string {
  const plural = (count: number, one: string) => `${count.toLocaleString('en')} ${count === 1 ? one : `${one}s`}`
  const parts = [
    bring > 0 && plural(bring, 'link'),
    rules > 0 && plural(rules, 'rule'),
    replace > 0 && `${replace.toLocaleString('en')} changed`,
  ].filter(Boolean)
  return parts.length === 0 ? 'Nothing to bring in' : `Bring in ${parts.join(' and ')}`
}
