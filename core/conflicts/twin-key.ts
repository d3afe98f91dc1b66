import { destinationKey } from '../address'

/** Parameters that say where a visitor came from and change nothing of the page (common practice, no source). */
const TRACKING =
  /^(?:utm_[a-z_]+|(?:fb|g|gb|ms|tw|yc|dc|li_fat_|mc_e|mc_c|igsh|wbr|gbra)(?:cl)?id|igshid|_ga|_gl|mkt_tok|ref_src)$/i

/**
 * A destination's key without tracking parameters and fragment of none: destinations with the same key are one place.
 */
export function twinKey(destination: string): string {
  const key = destinationKey(destination)
  const question = key.indexOf('?')
  if (question === -1) return key
  const hash = key.indexOf('#', question)
  const query = key.slice(question + 1, hash === -1 ? undefined : hash)
  const kept = query.split('&').filter((piece) => !TRACKING.test(piece.split('=', 1)[0]!))
  return key.slice(0, question) + (kept.length > 0 ? '?' + kept.join('&') : '') + (hash === -1 ? '' : key.slice(hash))
}
