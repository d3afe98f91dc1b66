/** When a domain is to be asked again, in milliseconds, and why. */
export interface NextLook {
  at: number
  why: string
}

export interface NextLookInput {
  now: number
  /** The longest to wait, in milliseconds. */
  interval: number
  /** The moments at which old answers must lapse, in milliseconds. */
  lapses: readonly number[]
}

/** At most this often is a domain asked. */
const MIN_MS = 2000
/** So long after an answer must have lapsed is it asked for again. */
const AFTER_MS = 500

/** The next look follows the TTLs: just after the first old answer must lapse, and after the interval at the latest. */
export function nextLook({ now, interval, lapses }: NextLookInput): NextLook {
  const soonest = Math.min(
    ...lapses.filter((moment) => moment + AFTER_MS > now).map((moment) => moment + AFTER_MS),
    Number.POSITIVE_INFINITY,
  )
  const regular = now + interval
  return soonest < regular
    ? { at: Math.max(soonest, now + MIN_MS), why: 'an old answer expires then' }
    : { at: Math.max(regular, now + MIN_MS), why: 'regular check' }
}
