import { readHost } from './host'
import { mergeQueries, type QueryConflict, type QueryPolicy } from './query'
import { toWire } from './percent'

/** A destination taken apart once, so that answering only joins strings. */
export interface SplitDestination {
  /** Everything before the query. */
  base: string
  /** The destination's own query without `?`; empty where it has none. */
  query: string
  /** The destination's own fragment with `#`; empty where it has none. */
  fragment: string
}

/** Splits a destination at its first `#`, then its first `?` (RFC 3986 appendix B). */
export function splitDestination(destination: string): SplitDestination {
  const hash = destination.indexOf('#')
  const beforeHash = hash === -1 ? destination : destination.slice(0, hash)
  const question = beforeHash.indexOf('?')
  return {
    base: question === -1 ? beforeHash : beforeHash.slice(0, question),
    query: question === -1 ? '' : beforeHash.slice(question + 1),
    fragment: hash === -1 ? '' : destination.slice(hash),
  }
}

/**
 * The Location for a visitor who came with `visitorsQuery` (without `?`). What is not touched is never
 * re-encoded; characters that may not stand in a header are escaped, so a Location holds no control character.
 */
export function composeLocation(
  destination: string,
  visitorsQuery: string,
  policy: QueryPolicy,
  conflict: QueryConflict,
): string {
  if (policy === 'discard' || visitorsQuery === '') return destination
  const { base, query, fragment } = splitDestination(destination)
  const merged = mergeQueries(query, toWire(visitorsQuery), conflict)
  return base + (merged === '' ? '' : '?' + merged) + fragment
}

export type DestinationRefusal = 'empty' | 'too-long' | 'not-a-url' | 'scheme' | 'user-info' | 'not-a-host'

export type DestinationReading =
  { ok: true; destination: string; host: string } | { ok: false; reason: DestinationRefusal; scheme?: string }

/** Longest destination kept, in octets: what RFC 9110 §4.1 advises every recipient to support. */
export const MAX_DESTINATION = 8000

/**
 * Reads a destination for keeping. A legal URI stays byte for byte as typed; one with characters that need
 * escaping comes back in the URL Standard's serialisation. Refuses other schemes than http, https and those in
 * `appSchemes` (lower case, without colon), and user-info (RFC 9110 §4.2.4).
 */
export function readDestination(typed: string, appSchemes: readonly string[] = []): DestinationReading {
  const text = typed.trim()
  if (text === '') return { ok: false, reason: 'empty' }
  if (text.length > MAX_DESTINATION) return { ok: false, reason: 'too-long' }
  let url: URL
  try {
    url = new URL(text)
  } catch {
    return { ok: false, reason: 'not-a-url' }
  }
  const scheme = url.protocol.slice(0, -1)
  if (scheme !== 'http' && scheme !== 'https') {
    if (!appSchemes.includes(scheme)) return { ok: false, reason: 'scheme', scheme }
    return { ok: true, destination: toWire(text), host: url.hostname }
  }
  if (!/^https?:\/\//i.test(text)) return { ok: false, reason: 'not-a-url' }
  if (url.username !== '' || url.password !== '' || /^[^/]*\/\/[^/?#]*@/.test(text))
    return { ok: false, reason: 'user-info' }
  const host = readHost(url.hostname)
  if (!host.ok) return { ok: false, reason: 'not-a-host' }
  const legal = /^[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=%]+$/.test(text) && !/%(?![0-9A-Fa-f]{2})/.test(text)
  const destination = legal && !text.includes('\\') ? text : url.href
  if (destination.length > MAX_DESTINATION) return { ok: false, reason: 'too-long' }
  return { ok: true, destination, host: host.host }
}

/**
 * A destination's key for finding twins: scheme and host in lower case, default port and empty path settled,
 * escapes of unreserved characters decoded, others in upper case, dot segments gone, fragment kept (RFC 3986 §6.2).
 */
export function destinationKey(destination: string): string {
  let url: URL
  try {
    url = new URL(destination)
  } catch {
    return destination
  }
  const settle = (text: string) =>
    text.replace(/%[0-9A-Fa-f]{2}/g, (escape) => {
      const character = String.fromCharCode(parseInt(escape.slice(1), 16))
      return /[A-Za-z0-9\-._~]/.test(character) ? character : escape.toUpperCase()
    })
  return url.protocol + '//' + url.host + settle(url.pathname) + settle(url.search) + settle(url.hash)
}
