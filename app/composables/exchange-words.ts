import type { Intake, IntakeCause, IntakeDecision, IntakeRow } from '~~/core/schemas'
import { counted } from '~~/core/text/counted'

type State = 'sound' | 'doubtful' | 'broken' | 'idle' | 'ended'

/** How a file stands, in a few words with its mark. */
export const INTAKE_STATES: Record<Intake['state'], { words: string; state: State }> = {
  reading: { words: 'Reading', state: 'idle' },
  ready: { words: 'Not imported yet', state: 'idle' },
  applying: { words: 'Importing', state: 'idle' },
  applied: { words: 'Imported', state: 'sound' },
  withdrawn: { words: 'Discarded', state: 'ended' },
  failed: { words: 'Could not be read', state: 'broken' },
}

/** What may be decided of a row, in words. */
export const INTAKE_DECISION_WORDS: Record<IntakeDecision, string> = {
  bring: 'Import',
  paused: 'Import as paused',
  replace: 'Replace with the file’s',
  leave: 'Skip',
}

/** A decision as one row offers it: what stays where a link is there already is ours. */
export const decisionWords = (row: IntakeRow, decision: IntakeDecision): string =>
  decision === 'leave' && row.link !== null ? 'Keep existing' : INTAKE_DECISION_WORDS[decision]

/** Why several lines conflict, by the code of the finding: what follows “3 lines”. */
const CAUSE_WORDS: Record<string, string> = {
  'same-address': 'have the address of an existing link',
  'look-alike': 'look like the address of an existing link',
  'one-slip': 'differ by one typing error from an existing link',
  'rule-breaker': 'do not meet the slug rules',
  elsewhere: 'have another destination in the register',
  differs: 'differ from the register in other fields',
  gone: 'are gone in the file',
  retired: 'are retired in the register',
  'left-out': 'are no longer in the file',
}
/** The same, where a rule is the other side; its pattern follows. */
const RULE_CAUSE_WORDS: Record<string, string> = {
  hidden: 'match the pattern of rule',
  overlapping: 'overlap with rule',
}

/** What several lines have in common, in words. */
export function causeWords({ code, cause, rows }: IntakeCause): string {
  const words = (cause && RULE_CAUSE_WORDS[code]) || CAUSE_WORDS[code] || (cause ? 'conflict with' : 'have one finding')
  return `${rows.toLocaleString('en')} lines ${words}`
}

/** A decision as lines with one cause offer it. */
export const causeDecisionWords = ({ choices }: IntakeCause, decision: IntakeDecision): string =>
  decision === 'leave' && choices.includes('replace') ? 'Keep existing' : INTAKE_DECISION_WORDS[decision]

/** What a row comes to: its mark, and the sentence. */
export function foundOf(row: IntakeRow): { words: string; state: State } {
  if (row.kind === 'refused') return { words: row.why, state: 'broken' }
  if (row.kind === 'clash') return { words: row.why, state: 'doubtful' }
  if (row.kind === 'same') return { words: row.why, state: 'idle' }
  if (row.check && row.check.confidence !== 'sound') return { words: row.check.sentence, state: row.check.confidence }
  const answers = row.check ? 'Its destination answers' : ''
  return { words: row.why || answers, state: 'sound' }
}

/** The label of the button that imports. */
export function bringWords({ bring, rules, replace }: Intake['counts']): string {
  const parts = [
    bring > 0 && counted(bring, 'link'),
    rules > 0 && counted(rules, 'rule'),
    replace > 0 && `${replace.toLocaleString('en')} changed`,
  ].filter(Boolean)
  return parts.length === 0 ? 'Nothing to import' : `Import ${parts.join(' and ')}`
}
