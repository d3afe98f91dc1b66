/** Longest request target answered, in octets (RFC 9110 §4.1). */
export const MAX_TARGET = 8000

export type TargetReading =
  | { ok: true; path: string; query: string; authority: string | undefined }
  | { ok: false; reason: 'too-long' | 'not-a-target' }

/**
 * Splits a request target (RFC 9112 §3.2) into path and query at the first `?`, bytes kept. Absolute form brings
 * its own authority, which replaces Host (§3.2.2). A fragment never travels and is not a target.
 */
export function readTarget(target: string): TargetReading {
  if (target.length > MAX_TARGET) return { ok: false, reason: 'too-long' }
  if (target.includes('#')) return { ok: false, reason: 'not-a-target' }
  if (target.charCodeAt(0) === 0x2f) return splitQuery(target, undefined)
  const absolute = /^https?:\/\/([^/?#]*)(.*)$/is.exec(target)
  if (!absolute || absolute[1] === '') return { ok: false, reason: 'not-a-target' }
  const rest = absolute[2]!.startsWith('/') ? absolute[2]! : '/' + absolute[2]
  return splitQuery(rest, absolute[1]!)
}

function splitQuery(target: string, authority: string | undefined): TargetReading {
  const question = target.indexOf('?')
  return question === -1
    ? { ok: true, path: target, query: '', authority }
    : { ok: true, path: target.slice(0, question), query: target.slice(question + 1), authority }
}
