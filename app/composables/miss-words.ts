import type { Miss, MissDecision } from '~~/core/schemas'

/** A probability as people read it. */
export const percent = (share: number): string => (share >= 0.995 ? '> 99 %' : `${Math.round(share * 100)} %`)

export const TREND_WORDS: Record<Miss['trend'], string> = {
  new: 'new this week',
  rising: 'rising',
  steady: 'steady',
  falling: 'falling',
  over: 'not asked this week',
}

/** What can be decided about a miss, as a menu says it. */
export const DECISION_WORDS: Record<MissDecision, string> = {
  alias: 'Another slug of the link that was meant',
  link: 'A link of its own',
  back: 'Bring the link back',
  gone: 'Say that it is gone',
  noise: 'Noise, this one',
  'noise-shape': 'Noise, all of this shape',
  open: 'No noise after all',
}
