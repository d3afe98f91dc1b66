import type { Miss, MissDecision } from '~~/core/schemas'

/** A probability as people read it. */
export const percent = (share: number): string => (share >= 0.995 ? '> 99%' : `${Math.round(share * 100)}%`)

export const TREND_WORDS: Record<Miss['trend'], string> = {
  new: 'new this week',
  rising: 'rising',
  steady: 'steady',
  falling: 'falling',
  over: 'none this week',
}

/** What can be decided about a miss, as a menu says it. */
export const DECISION_WORDS: Record<MissDecision, string> = {
  alias: 'Add as a slug of the matching link',
  link: 'Create a link',
  back: 'Restore the link',
  gone: 'Mark as gone (410)',
  noise: 'Mark as noise',
  'noise-shape': 'Mark this pattern as noise',
  open: 'Not noise',
}
