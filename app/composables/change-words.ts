import type { Proposal, ProposalRow, ReplayView } from '~~/core/schemas'
import type { Step } from '~~/core/changes'

/** The kinds of steps as people choose them. */
export const STEP_TITLES: Record<Step['do'], string> = {
  'move-host': 'Move a host',
  replace: 'Find and replace',
  parameters: 'Parameters of the query',
  follow: 'Follow what moved for good',
  set: 'One destination for all',
}

type State = 'sound' | 'doubtful' | 'broken' | 'idle' | 'ended'

/** How a proposal stands, in a few words with its mark. */
export const PROPOSAL_STATES: Record<Proposal['state'], { words: string; state: State }> = {
  computing: { words: 'Being worked out', state: 'idle' },
  ready: { words: 'Nothing is changed yet', state: 'idle' },
  waiting: { words: 'Waits for its moment', state: 'idle' },
  applying: { words: 'Being made', state: 'idle' },
  applied: { words: 'Made', state: 'sound' },
  withdrawn: { words: 'Withdrawn', state: 'ended' },
  held: { words: 'Held: not made at its moment', state: 'doubtful' },
  failed: { words: 'Could not be worked out', state: 'broken' },
}

/** What a row comes to, with its mark. */
export function rowWords(row: ProposalRow): { words: string; state: State } {
  if (row.leftOut) return { words: 'Left out', state: 'ended' }
  if (row.kind === 'unchanged') return { words: 'Stays as it is', state: 'idle' }
  if (row.kind === 'clash') return { words: row.why, state: 'broken' }
  if (row.kind === 'refused') return { words: row.why, state: 'broken' }
  if (row.check === null)
    return { words: row.after && 'destination' in row.after ? 'Not asked yet' : '', state: 'idle' }
  return row.check.confidence === 'sound'
    ? { words: 'Answers', state: 'sound' }
    : { words: row.check.sentence, state: row.check.confidence }
}

/** What becomes of replayed requests, in the order of their weight. */
export const FATE_WORDS: { fate: keyof ReplayView['counts']; words: string; state: State }[] = [
  { fate: 'same', words: 'land as before', state: 'sound' },
  { fate: 'elsewhere', words: 'land elsewhere', state: 'doubtful' },
  { fate: 'status', words: 'land by another status', state: 'doubtful' },
  { fate: 'served', words: 'newly served', state: 'sound' },
  { fate: 'lost', words: 'newly not found', state: 'broken' },
  { fate: 'loop', words: 'newly in a circle', state: 'broken' },
  { fate: 'missing', words: 'were not found before either', state: 'idle' },
]
