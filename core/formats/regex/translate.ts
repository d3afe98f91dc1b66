import { readExpression } from '../../patterns/expression'
import { PatternFault } from '../../patterns/node'

export type Translation =
  { ok: true; source: string; groups: number } | { ok: false; construct: string; column: number; sentence: string }

/** What Perl-compatible expressions know and a linear-time matcher cannot do, by how it begins. */
const REFUSED: readonly [begins: RegExp, construct: string][] = [
  [/^\(\?<?=/, 'look-ahead or look-behind'],
  [/^\(\?<?!/, 'look-ahead or look-behind'],
  [/^\(\?>/, 'an atomic group'],
  [/^\(\?\(/, 'a conditional group'],
  [/^\(\?(?:R|[+-]?\d|&|P>)/, 'recursion'],
  [/^\(\?\|/, 'a branch reset'],
  [/^\(\?P=/, 'a back-reference'],
  [/^\(\?C/, 'a callout'],
  [/^\(\*/, 'a verb of backtracking'],
  [/^\\(?:[1-9]|g|k)/, 'a back-reference'],
  [/^\\K/, '\\K'],
  [/^\\G/, '\\G'],
  [/^\\[XRC]/, 'a sequence of several characters'],
  [/^\\x(?:[89a-f][0-9a-f]|\{[89a-f][0-9a-f]\})/i, 'a byte of a longer character'],
  [/^(?:[*+?]|\{\d+(?:,\d*)?\})\+/, 'a possessive quantifier'],
]

/** Escapes written otherwise in RE2 syntax; exact for the characters an address can hold. */
const REWRITTEN: Record<string, string> = {
  '\\h': '[\\t \\x{A0}]',
  '\\H': '[^\\t \\x{A0}]',
  '\\N': '[^\\n]',
  '\\e': '\\x1b',
  '\\Z': '$',
  '\\/': '/',
}

/**
 * Translates a Perl-compatible expression (PCRE2: pcre2pattern(3)), as Apache and nginx read them, into RE2 syntax
 * (github.com/google/re2/wiki/Syntax) where that is exact. Where it is not, the construct is named with its column,
 * from 1. Groups keep their numbers. An expression is matched with a decoded path, or, if `raw`, with the request as it
 * was sent.
 */
export function translateExpression(source: string, { raw = false } = {}): Translation {
  const escapeOf = raw ? (character: string) => character : escapedOf
  let made = ''
  let inClass = false
  for (let at = 0; at < source.length;) {
    const rest = source.slice(at)
    if (!inClass) {
      const refused = REFUSED.find(([begins]) => begins.test(rest))
      if (refused)
        return {
          ok: false,
          construct: refused[1],
          column: at + 1,
          sentence: `Contains ${refused[1]}, which RE2 does not support.`,
        }
    }
    if (rest.startsWith('\\')) {
      const escape = rest.slice(0, 2)
      const rewritten = REWRITTEN[escape]
      if (inClass && rewritten?.startsWith('[')) made += escape === '\\h' ? '\\t \\x{A0}' : escape
      else made += rewritten ?? (inClass ? escape : escapeOf(unescaped(escape)))
      at += 2
      continue
    }
    if (inClass) {
      if (rest.startsWith('[:')) {
        const end = rest.indexOf(':]')
        const named = end === -1 ? '[' : rest.slice(0, end + 2)
        made += named === '[' ? '\\[' : named
        at += named.length
        continue
      }
      if (rest[0] === ']') inClass = false
      made += rest[0] === '[' ? '\\[' : rest[0]
      at++
      continue
    }
    if (rest[0] === '[') {
      const open = /^\[\^?\]?/.exec(rest)![0]
      made += open.replace(']', '\\]')
      inClass = true
      at += open.length
      continue
    }
    const named = /^\(\?(?:<|')([A-Za-z_]\w*)[>']/.exec(rest)
    if (named) {
      made += `(?P<${named[1]}>`
      at += named[0].length
      continue
    }
    const comment = /^\(\?#[^)]*\)/.exec(rest)
    if (comment) {
      at += comment[0].length
      continue
    }
    made += escapeOf(rest[0]!)
    at++
  }
  try {
    return { ok: true, source: made, groups: readExpression(made).groups }
  } catch (error) {
    if (!(error instanceof PatternFault)) throw error
    return { ok: false, construct: 'something that cannot be read', column: 1, sentence: error.message }
  }
}

/** A character that canonical paths hold as an escape only. */
const escapedOf = (character: string) => (/^[ "<>%]$/.test(character) ? encodeURIComponent(character) : character)

/** An escape of a character that needs none: both dialects mean the character, RE2 refuses the escape of some. */
const unescaped = (escape: string) =>
  /^\\[-_~!@#%&=:;"'<>,` ]$/.test(escape) && escape !== '\\-' ? escape[1]! : escape
