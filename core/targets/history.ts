import { isFailure, VERDICTS, type Confidence, type Judged, type VerdictName } from './verdicts'

/** When a failure counts as settled. */
export interface Patience {
  /** So many checks in a row must have failed … */
  checks: number
  /** … over at least this long. */
  overMs: number
}

/** How a target stands after its checks so far. */
export interface Standing {
  verdict: VerdictName
  confidence: Confidence
  sentence: string
  /** Since when it stands like this: the first of the checks in a row that say so. */
  since: number
  /** Checks in a row that failed, whatever the verdict, and since when. */
  failures: number
  failingSince: number | null
  /** Whether it comes and goes. */
  flapping: boolean
  /** Of the latest checks, the newest last: whether each failed. */
  recent: boolean[]
}

const REMEMBERED = 20
/** So often it must have turned among the checks remembered. */
const TURNS = 4

/**
 * How a target stands once another check was judged: doubtful after one failure, as bad as its verdict can be after
 * `patience`, and told as coming and going where failures and answers alternate (semantics §5).
 */
export function advance(before: Standing | null, judged: Judged, at: number, patience: Patience): Standing {
  const failed = isFailure(judged.verdict)
  const recent = [...(before?.recent ?? []), failed].slice(-REMEMBERED)
  const failures = failed ? (before?.failures ?? 0) + 1 : 0
  const failingSince = failed ? (before?.failingSince ?? at) : null
  const turns = recent.filter((one, index) => index > 0 && one !== recent[index - 1]).length
  const flapping = turns >= TURNS
  const confirmed = failed && failures >= patience.checks && at - failingSince! >= patience.overMs
  const same = before !== null && before.verdict === judged.verdict && !before.flapping
  const state = { failures, failingSince, recent, flapping }
  if (flapping && !confirmed) {
    const count = recent.filter(Boolean).length
    const verdict = failed
      ? judged.verdict
      : before!.flapping || isFailure(before!.verdict)
        ? before!.verdict
        : judged.verdict
    // What answered all along but for failures of another age is sound again.
    if (isFailure(verdict))
      return {
        ...state,
        verdict,
        confidence: 'doubtful',
        sentence:
          `Intermittent: ${count} of the last ${recent.length} checks failed. ` +
          (failed ? `Now: ${judged.sentence}` : 'The last one was answered.'),
        since: before?.flapping ? before.since : at,
      }
  }
  return {
    ...state,
    flapping: false,
    verdict: judged.verdict,
    confidence: !failed ? 'sound' : confirmed ? VERDICTS[judged.verdict].worst : 'doubtful',
    sentence: judged.sentence,
    since: same ? before.since : failed ? (failingSince === at ? at : failingSince!) : at,
  }
}

/** Whether a standing is worth a case: a failure that is settled, or one that comes and goes. */
export const isCase = (standing: Standing, at: number, patience: Patience): boolean =>
  standing.flapping ||
  (standing.failures >= patience.checks &&
    standing.failingSince !== null &&
    at - standing.failingSince >= patience.overMs)
