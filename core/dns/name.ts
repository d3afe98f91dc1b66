/**
 * A domain name as Fides keeps it: absolute, lower case, escaped as in a master file (RFC 1035 §5.1); the root is `.`.
 */
export type DnsName = string

export type NameReading = { ok: true; name: DnsName } | { ok: false; sentence: string }

const PLAIN = /^(?:[a-z0-9_*-]{1,63}\.)*[a-z0-9_*-]{1,63}\.?$/
const SPECIAL = new Set('.;()"\\@$')

/** Splits a name's text into labels of octets (one character an octet), taking `\X` and `\DDD` (RFC 1035 §5.1). */
export function labelsOf(name: string): string[] {
  if (name === '.' || name === '') return []
  if (!name.includes('\\')) return (name.endsWith('.') ? name.slice(0, -1) : name).split('.')
  const labels: string[] = []
  let label = ''
  for (let at = 0; at < name.length; at++) {
    const character = name[at]!
    if (character === '.') {
      labels.push(label)
      label = ''
    } else if (character === '\\') {
      const digits = /^\d{3}/.exec(name.slice(at + 1))?.[0]
      label += digits ? String.fromCharCode(Number(digits) & 255) : (name[at + 1] ?? '')
      at += digits ? 3 : 1
    } else label += character
  }
  if (!endsWithDot(name)) labels.push(label)
  return labels
}

/** Whether the last dot is one that separates, not an escaped one. */
const endsWithDot = (name: string) => name.endsWith('.') && /(?:^|[^\\])(?:\\\\)*\.$/.test(name)

/** Writes labels of octets as a name. */
export function nameOf(labels: readonly string[]): DnsName {
  return labels.length === 0 ? '.' : labels.map((label) => escapeLabel(label.toLowerCase())).join('.') + '.'
}

function escapeLabel(label: string): string {
  let text = ''
  for (const character of label) {
    const code = character.charCodeAt(0)
    text += SPECIAL.has(character)
      ? '\\' + character
      : code < 33 || code > 126
        ? '\\' + String(code).padStart(3, '0')
        : character
  }
  return text
}

/**
 * Reads a name from a master file or a field: relative to `origin` unless it ends with a dot, `@` for the origin
 * itself. Refuses labels over 63 octets, names over 255 octets and empty labels (RFC 1035 §2.3.4, §3.1).
 */
export function readName(text: string, origin: DnsName = '.'): NameReading {
  if (text === '@') return { ok: true, name: origin }
  const lower = text.toLowerCase()
  if (PLAIN.test(lower)) {
    const name = lower.endsWith('.') ? lower : origin === '.' ? lower + '.' : `${lower}.${origin}`
    if (name.length <= 254) return { ok: true, name }
    return {
      ok: false,
      sentence: `the name “${shorten(text)}” is ${name.length + 1} bytes long; a name can have at most 255`,
    }
  }
  if (text === '.') return { ok: true, name: '.' }
  // An escaped backslash is taken as a pair, so that what follows it begins no escape.
  for (const [, escape] of text.matchAll(/\\(\d{1,3}|[^\d]|$)/gs)) {
    if (escape === '' || (/^\d/.test(escape!) && (escape!.length !== 3 || Number(escape) > 255)))
      return { ok: false, sentence: `the name “${shorten(text)}” has an escape that is neither \\X nor \\000 to \\255` }
  }
  const labels = labelsOf(text)
  const whole = endsWithDot(text) ? labels : [...labels, ...labelsOf(origin)]
  const long = whole.find((label) => label.length > 63)
  if (long !== undefined)
    return {
      ok: false,
      sentence: `the name “${shorten(text)}” has a label of ${long.length} bytes; a label can have at most 63`,
    }
  if (whole.some((label) => label === ''))
    return {
      ok: false,
      sentence: `the name “${shorten(text)}” has an empty label; there are two dots in a row, or one at the start`,
    }
  if (whole.reduce((sum, label) => sum + label.length + 1, 1) > 255)
    return { ok: false, sentence: `the name “${shorten(text)}” is longer than 255 bytes` }
  return { ok: true, name: nameOf(whole) }
}

const shorten = (text: string) => (text.length > 60 ? text.slice(0, 57) + '…' : text)

/** A host as the address parts keep it, without its last dot, as a name. */
export const nameOfHost = (host: string): DnsName => `${host}.`
/** A name for people and for hosts: without its last dot. */
export const hostOfName = (name: DnsName): string => (name === '.' ? '.' : name.slice(0, -1))

/** The name one label up; the root has none. */
export function parentOf(name: DnsName): DnsName | undefined {
  if (name === '.') return undefined
  if (!name.includes('\\')) return name.slice(name.indexOf('.') + 1) || '.'
  return nameOf(labelsOf(name).slice(1))
}

/** Whether `name` is `ancestor` or lies below it. */
export const isAtOrBelow = (name: DnsName, ancestor: DnsName): boolean =>
  ancestor === '.' || name === ancestor || name.endsWith('.' + ancestor)

/** The name as written inside its zone: `@`, relative, or absolute where it lies outside. */
export function relativeName(name: DnsName, origin: DnsName): string {
  if (name === origin) return '@'
  if (origin !== '.' && name.endsWith('.' + origin)) return name.slice(0, -origin.length - 1)
  return name
}
