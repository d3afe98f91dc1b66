/** How sure it is that visitors are harmed. */
export type Confidence = 'sound' | 'doubtful' | 'broken'

/** How confidences are ordered in the register, the worst last; 0 is what was never asked. */
export const TARGET_RANKS: Readonly<Record<Confidence, number>> = { sound: 1, doubtful: 2, broken: 3 }

interface VerdictFacts {
  /** What it is called on lists. */
  words: string
  /** What it is at worst, however often it is seen. */
  worst: Confidence
  /** Where visitors arrive and nothing is lost: a remark at most. */
  remark?: true
}

/** Every verdict on a destination. */
const FACTS = {
  sound: { words: 'Answers', worst: 'sound' },
  'moved-permanently': { words: 'Moved permanently', worst: 'sound', remark: true },
  'moved-temporarily': { words: 'Moved temporarily', worst: 'sound', remark: true },
  'front-page': { words: 'Redirects to home page', worst: 'broken' },
  'not-found': { words: 'Not found', worst: 'broken' },
  'soft-not-found': { words: 'Soft 404', worst: 'broken' },
  parked: { words: 'Parked domain', worst: 'broken' },
  'sign-in': { words: 'Sign-in required', worst: 'broken' },
  refused: { words: 'Blocks checks', worst: 'doubtful' },
  'server-error': { words: 'Server error', worst: 'broken' },
  'no-such-name': { words: 'Host not found', worst: 'broken' },
  'no-answer': { words: 'No answer', worst: 'broken' },
  certificate: { words: 'Certificate error', worst: 'broken' },
  'redirect-loop': { words: 'Redirect loop', worst: 'broken' },
  'parameters-lost': { words: 'Parameters lost', worst: 'doubtful' },
  downgraded: { words: 'Ends on unencrypted http', worst: 'doubtful' },
} as const satisfies Record<string, VerdictFacts>

export type VerdictName = keyof typeof FACTS
export const VERDICTS: Readonly<Record<VerdictName, VerdictFacts>> = FACTS
export const VERDICT_NAMES = Object.keys(FACTS) as [VerdictName, ...VerdictName[]]

/** Whether a check of this verdict counts as failed. */
export const isFailure = (verdict: VerdictName): boolean => VERDICTS[verdict].worst !== 'sound'

/** One thing a verdict rests on. */
export interface VerdictFact {
  label: string
  text: string
  state: Confidence
}

/** What one piece of evidence says. */
export interface Judged {
  verdict: VerdictName
  /** One sentence in plain words. */
  sentence: string
  facts: VerdictFact[]
  /** Where visitors end up; `null` where nothing answers. */
  final: string | null
}
