import type { Proposal, ProposalRow, ReplayView } from '~~/core/schemas'
import type { Step } from '~~/core/changes'

/** The kinds of steps as people choose them. */
export const STEP_TITLES: Record<Step['do'], string> = {
  'move-host': 'Move a host',
  replace: 'Find and replace',
  parameters: 'Query parameters',
  follow: 'Follow permanent redirects',
  set: 'Set one destination',
}

type State = 'sound' | 'doubtful' | 'broken' | 'idle' | 'ended'

/** How a proposal stands, in a few words with its mark. */
export const PROPOSAL_STATES: Record<Proposal['state'], { words: string; state: State }> = {
  computing: { words: 'Calculating', state: 'idle' },
  ready: { words: 'Not applied yet', state: 'idle' },
  waiting: { words: 'Scheduled', state: 'idle' },
  applying: { words: 'Applying', state: 'idle' },
  applied: { words: 'Applied', state: 'sound' },
  withdrawn: { words: 'Withdrawn', state: 'ended' },
  held: { words: 'On hold: not applied as scheduled', state: 'doubtful' },
  failed: { words: 'Calculation failed', state: 'broken' },
}

/** What a row comes to, with its mark. */
export function rowWords(row: ProposalRow): { words: string; state: State } {
  if (row.leftOut) return { words: 'Left out', state: 'ended' }
  if (row.kind === 'unchanged') return { words: 'Stays as it is', state: 'idle' }
  if (row.kind === 'clash') return { words: row.why, state: 'broken' }
  if (row.kind === 'refused') return { words: row.why, state: 'broken' }
  if (row.check === null)
    return { words: row.after && 'destination' in row.after ? 'Not checked yet' : '', state: 'idle' }
  return row.check.confidence === 'sound'
    ? { words: 'Answers', state: 'sound' }
    : { words: row.check.sentence, state: row.check.confidence }
}

/** What becomes of replayed requests, in the order of their weight. */
export const FATE_WORDS: { fate: keyof ReplayView['counts']; words: string; state: State }[] = [
  { fate: 'same', words: 'same result', state: 'sound' },
  { fate: 'elsewhere', words: 'different destination', state: 'doubtful' },
  { fate: 'status', words: 'different status code', state: 'doubtful' },
  { fate: 'served', words: 'newly served', state: 'sound' },
  { fate: 'lost', words: 'newly not found', state: 'broken' },
  { fate: 'loop', words: 'new redirect loop', state: 'broken' },
  { fate: 'missing', words: 'not found before or after', state: 'idle' },
]
