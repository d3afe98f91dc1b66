/** Percent-escapes of a path (RFC 3986 §2.1, §6.2.2). */

const ESCAPE = /%[0-9A-Fa-f]{2}/g
const MALFORMED = /%(?![0-9A-Fa-f]{2})/
const UNRESERVED = /[A-Za-z0-9\-._~]/
// Characters that may stand unescaped in a path: pchar and "/" (RFC 3986 §3.3).
const PATH_CHARACTER = /[A-Za-z0-9\-._~!$&'()*+,;=:@/]/
const PLAIN = /^[A-Za-z0-9\-._~!$&'()*+,;=:@/]*$/
const CONTROL = /\p{Cc}/u

export type PercentResult =
  { ok: true; text: string } | { ok: false; reason: 'malformed-escape' | 'not-utf8' | 'control-character' }

const utf8 = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true })

/**
 * Decodes what may be decoded without changing the meaning of a path: escapes of unreserved characters
 * and of non-ASCII text (as UTF-8). Every other escape stays, in upper case; ASCII that may not stand bare
 * in a path is escaped. The result holds no control characters.
 *
 * Refuses malformed escapes, byte sequences that are not UTF-8, and control characters, escaped or bare.
 */
export function decodePath(path: string): PercentResult {
  // Most paths hold nothing to decode.
  if (PLAIN.test(path)) return { ok: true, text: path }
  if (MALFORMED.test(path)) return { ok: false, reason: 'malformed-escape' }
  if (CONTROL.test(path)) return { ok: false, reason: 'control-character' }
  let refused: 'not-utf8' | 'control-character' | undefined
  const text = path.replace(/(?:%[0-9A-Fa-f]{2})+|[^%]/gu, (piece) => {
    if (piece[0] !== '%') return encodeBare(piece)
    const bytes = Uint8Array.from(piece.match(ESCAPE)!, (escape) => parseInt(escape.slice(1), 16))
    let decoded: string
    try {
      decoded = utf8.decode(bytes)
    } catch {
      refused ??= 'not-utf8'
      return ''
    }
    if (CONTROL.test(decoded)) {
      refused ??= 'control-character'
      return ''
    }
    return Array.from(decoded, (character) =>
      character.codePointAt(0)! > 0x7f || UNRESERVED.test(character) ? character : escapeAscii(character),
    ).join('')
  })
  return refused ? { ok: false, reason: refused } : { ok: true, text }
}

/** Escapes one bare character where a path may not hold it; non-ASCII stays readable. */
function encodeBare(character: string): string {
  const code = character.codePointAt(0)!
  if (code > 0x7f) return code >= 0xd800 && code <= 0xdfff ? '\uFFFD' : character
  return PATH_CHARACTER.test(character) ? character : escapeAscii(character)
}

function escapeAscii(character: string): string {
  return '%' + character.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')
}

/** Applies `change` to the text between escapes only, so that no rule can touch an escape's own digits. */
export function betweenEscapes(text: string, change: (piece: string) => string): string {
  if (!text.includes('%')) return change(text)
  return text
    .split(/(%[0-9A-F]{2})/)
    .map((piece, index) => (index % 2 ? piece : change(piece)))
    .join('')
}

/**
 * Escapes all that may not travel in a request line or a header: anything outside %x21–7E, as UTF-8 (RFC 3986 §2.5).
 */
export function toWire(text: string): string {
  return /^[\x21-\x7e]*$/.test(text)
    ? text
    : text.toWellFormed().replace(/[^\x21-\x7e]+/g, (piece) => encodeURIComponent(piece))
}
