import { toWire } from './percent'

export type TypedAddress =
  { ok: true; host: string | undefined; target: string } | { ok: false; reason: 'empty' | 'scheme' }

/**
 * Reads what a person typed for a short address: with or without scheme, or only a path. The fragment stays with the
 * browser (RFC 9110 §7.1) and is dropped; what cannot travel in a request line is escaped as a browser would.
 */
export function readTypedAddress(typed: string): TypedAddress {
  let text = typed.trim()
  if (text === '') return { ok: false, reason: 'empty' }
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(text)
  if (scheme) {
    if (!/^https?$/i.test(scheme[1]!)) return { ok: false, reason: 'scheme' }
    text = text.slice(scheme[0].length)
  }
  const hash = text.indexOf('#')
  if (hash !== -1) text = text.slice(0, hash)
  if (text.startsWith('/')) return { ok: true, host: undefined, target: toWire(text) }
  const end = text.search(/[/?]/)
  if (end === -1) return { ok: true, host: text, target: '/' }
  const rest = text.slice(end)
  return { ok: true, host: text.slice(0, end), target: toWire(rest.startsWith('/') ? rest : '/' + rest) }
}
