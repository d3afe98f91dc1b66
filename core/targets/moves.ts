/** A refresh as a page declares it; later than this it is for reading, not for going on. */
const SOON_SECONDS = 10

/**
 * The value of `<meta http-equiv=refresh>` (HTML Living Standard, “shared declarative refresh steps”); `null` where it
 * names no address, the page itself, or a time beyond ten seconds.
 */
export function readRefresh(value: string, base: string): { seconds: number; url: string } | null {
  const match = /^\s*(\d*)(?:\.[\d.]*)?\s*(?:[;,\s]\s*(?:url\s*=\s*)?(?:"([^"]*)"?|'([^']*)'?|(\S.*))?)?$/i.exec(value)
  const reference = (match?.[2] ?? match?.[3] ?? match?.[4])?.trim()
  if (!match || !reference) return null
  const seconds = Number(match[1] || 0)
  const url = absolute(reference, base)
  return url === undefined || seconds > SOON_SECONDS || url === base ? null : { seconds, url }
}

const LOCATION = '(?:^|[\\s;{(])(?:window\\.|document\\.|self\\.|top\\.)*location'
const TEXT = '(["\'])([^"\'\\\\]{1,2000})'
const SET = new RegExp(`${LOCATION}(?:\\.href)?\\s*=\\s*${TEXT}\\1`)
const CALL = new RegExp(`${LOCATION}\\.(?:replace|assign)\\(\\s*${TEXT}\\1\\s*\\)`)

/** Where a script sends whoever runs it, as far as it stands there in plain text; `null` elsewhere. */
export function scriptMoveOf(script: string, base: string): string | null {
  // What waits for a click or a choice sends nobody by itself.
  if (/addEventListener|\bonclick\b|function\s+\w+\s*\(/.test(script)) return null
  const match = SET.exec(script) ?? CALL.exec(script)
  const url = match && absolute(match[2] ?? '', base)
  return url && url !== base && /^https?:/.test(url) ? url : null
}

/**
 * The address a Location leads to: resolved against the one asked, with its fragment where it brings none itself
 * (RFC 9110 §10.2.2; Fetch, “location URL”). User-info is dropped: nobody’s password is sent on.
 */
export function locationUrl(
  location: string,
  from: string,
): { ok: true; url: string } | { ok: false; reason: 'bad-location' | 'other-scheme' } {
  let url: URL
  try {
    url = new URL(location, from)
  } catch {
    return { ok: false, reason: 'bad-location' }
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return { ok: false, reason: 'other-scheme' }
  if (url.hash === '' && !location.includes('#')) url.hash = new URL(from).hash
  url.username = ''
  url.password = ''
  return { ok: true, url: url.href }
}

function absolute(reference: string, base: string): string | undefined {
  try {
    return new URL(reference, base).href
  } catch {
    return undefined
  }
}
