/** A week: what browsers are told at most while it is tried out. */
export const TRIAL_SECONDS = 7 * 86_400
/** So long a trial runs before more may be asked. */
export const TRIAL_MS = 7 * 86_400_000

interface HstsState {
  httpsOnly: boolean
  hstsSeconds: number | null
  /** Milliseconds. */
  hstsSince: number | null
}

/**
 * Why a domain may not tell browsers to come by https alone for so long (RFC 6797); `undefined` where it may. A browser
 * that was told so cannot be told otherwise over http: with a certificate that lapses, every printed address is dead
 * in it until the time is over. So more than a week comes only after a week of trial.
 */
export function hstsRefusal(
  before: HstsState,
  after: HstsState,
  now: number,
): { field: string; detail: string } | undefined {
  const wanted = after.hstsSeconds ?? 0
  if (wanted > 0 && !after.httpsOnly)
    return {
      field: before.httpsOnly ? 'httpsOnly' : 'hstsSeconds',
      detail: 'HSTS needs the redirect from http to https. Switch it on first.',
    }
  if (wanted <= TRIAL_SECONDS || wanted <= (before.hstsSeconds ?? 0)) return undefined
  const tried = (before.hstsSeconds ?? 0) > 0 && before.hstsSince !== null ? now - before.hstsSince : 0
  if (tried >= TRIAL_MS) return undefined
  const left = Math.ceil((TRIAL_MS - tried) / 86_400_000)
  return {
    field: 'hstsSeconds',
    detail:
      `More than a week comes after a week of trial: ask for at most ${TRIAL_SECONDS.toLocaleString('en')} seconds ` +
      `first; ${tried > 0 ? `${left} ${left === 1 ? 'day' : 'days'} of the trial are left.` : 'then come back.'}`,
  }
}

/** Since when browsers are told so, after a change. */
export const hstsSinceAfter = (before: HstsState, hstsSeconds: number | null, now: number): number | null =>
  (hstsSeconds ?? 0) === 0 ? null : (before.hstsSeconds ?? 0) > 0 ? before.hstsSince : now
