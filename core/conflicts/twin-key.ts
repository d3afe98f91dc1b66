import { destinationKey, isTracking } from '../address'

/**
 * A destination's key without tracking parameters and fragment of none: destinations with the same key are one place.
 */
export function twinKey(destination: string): string {
  const key = destinationKey(destination)
  const question = key.indexOf('?')
  if (question === -1) return key
  const hash = key.indexOf('#', question)
  const query = key.slice(question + 1, hash === -1 ? undefined : hash)
  const kept = query.split('&').filter((piece) => !isTracking(piece.split('=', 1)[0]!))
  return key.slice(0, question) + (kept.length > 0 ? '?' + kept.join('&') : '') + (hash === -1 ? '' : key.slice(hash))
}
