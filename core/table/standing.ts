import type { DecidedStanding, Standing } from '../rows/link'

/** The dates and the decision from which a link's standing follows. Moments in milliseconds. */
export interface StandingFacts {
  standing: DecidedStanding
  startsAt: number | null
  endsAt: number | null
  resumesAt: number | null
}

/**
 * A link's standing at a moment (semantics §1 item 6). What ends stays ended: retired, ended and a passed end
 * come before a pause; a pause whose resume time has come is over.
 */
export function standingAt(facts: StandingFacts, now: number): Standing {
  if (facts.standing === 'retired' || facts.standing === 'ended') return facts.standing
  if (facts.endsAt !== null && now >= facts.endsAt) return 'ended'
  if (facts.startsAt !== null && now < facts.startsAt) return 'scheduled'
  if (facts.standing === 'paused' && !(facts.resumesAt !== null && now >= facts.resumesAt)) return 'paused'
  return 'live'
}
