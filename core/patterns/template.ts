import { toWire } from '../address/percent'

/**
 * A rule's destination: a URI Template of levels 1 and 2 (RFC 6570 §3.2.2, §3.2.3) — `{name}` puts a capture in with
 * everything but unreserved characters escaped, `{+name}` keeps reserved characters, so that a path goes in whole.
 */
export interface Template {
  source: string
  /** Literals and expressions in turn, literals first and last. */
  literals: string[]
  expressions: { name: string; reserved: boolean }[]
}

export type TemplateReading = { ok: true; template: Template } | { ok: false; sentence: string }

const EXPRESSION = /\{(\+?)([A-Za-z0-9_]+)\}/g

/**
 * Reads a destination's template. Captures may stand only after the host, so that no visitor chooses where they land.
 */
export function readTemplate(
  source: string,
  captures: ReadonlyMap<string, number> | readonly string[],
): TemplateReading {
  const names = new Set(Array.isArray(captures) ? captures : (captures as ReadonlyMap<string, number>).keys())
  const literals: string[] = []
  const expressions: Template['expressions'] = []
  let end = 0
  for (const match of source.matchAll(EXPRESSION)) {
    literals.push(source.slice(end, match.index))
    expressions.push({ name: match[2]!, reserved: match[1] === '+' })
    end = match.index + match[0].length
  }
  literals.push(source.slice(end))
  const stray = literals.find((literal) => /[{}]/.test(literal))
  if (stray !== undefined)
    return {
      ok: false,
      sentence: 'Braces hold the name of a capture, like {id} or {+rest}; write “%7B” for a brace itself.',
    }
  const unknown = expressions.find(({ name }) => !names.has(name))
  if (unknown) {
    const known = [...names].map((name) => `{${name}}`).join(', ')
    return {
      ok: false,
      sentence:
        `The pattern captures nothing named “${unknown.name}”; ` +
        `${known ? `it captures ${known}` : 'it captures nothing'}.`,
    }
  }
  if (expressions.length > 0 && !/^[a-z][a-z0-9+.-]*:\/\/[^/?#]+[/?#]/i.test(literals[0]!))
    return {
      ok: false,
      sentence: 'Captures may stand only after the host and its slash, like https://www.example/{id}.',
    }
  return { ok: true, template: { source, literals, expressions } }
}

/**
 * Puts captured pieces of a canonical path in. A group that took no part is undefined and gives nothing (RFC 6570
 * §3.2.1).
 */
export function expand(template: Template, captured: (name: string) => string | undefined): string {
  let text = template.literals[0]!
  template.expressions.forEach(({ name, reserved }, index) => {
    const value = captured(name) ?? ''
    text += reserved ? encodeReserved(value) : encodeSimple(decode(value))
    text += template.literals[index + 1]!
  })
  return text
}

/** Escapes of a canonical path as the text they stand for. */
function decode(value: string): string {
  if (!value.includes('%')) return value
  try {
    return decodeURIComponent(value)
  } catch {
    return value
  }
}

/** Simple expansion: all but unreserved characters escaped, as UTF-8 (RFC 6570 §3.2.2). */
export const encodeSimple = (value: string): string =>
  encodeURIComponent(value.toWellFormed()).replace(
    /[!'()*]/g,
    (character) => '%' + character.charCodeAt(0).toString(16).toUpperCase(),
  )

/** Reserved expansion: reserved characters and whole escapes stay (RFC 6570 §3.2.3). */
export const encodeReserved = (value: string): string =>
  toWire(value).replace(/%(?![0-9A-Fa-f]{2})|[^A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=%]/g, (character) =>
    encodeURIComponent(character),
  )
