import type { Token } from '../token'

/** One entry of a master file: a record, a directive, or lines that hold neither (RFC 1035 §5.1). */
export interface Scanned {
  /** Places in the file; `end` lies behind the line's end. */
  start: number
  end: number
  line: number
  /** The entry starts with a blank: its owner is that of the record before. */
  blank: boolean
  tokens: Token[]
  /** What makes the entry unreadable, as a part of a sentence. */
  fault?: string
}

/**
 * Splits a master file (one character an octet) into entries: parentheses carry an entry over line ends, `;` starts
 * a comment, quotes hold blanks. Nothing is lost: every character lies in exactly one entry.
 */
export function* scan(text: string): Generator<Scanned> {
  let at = 0
  let line = 1
  while (at < text.length) {
    const entry: Scanned = {
      start: at,
      end: at,
      line,
      blank: text[at] === ' ' || text[at] === '\t' || text[at] === '(',
      tokens: [],
    }
    let depth = 0
    for (; at < text.length;) {
      const character = text[at]!
      if (character === '\n') {
        line++
        at++
        if (depth === 0) break
      } else if (character === ' ' || character === '\t' || character === '\r') at++
      else if (character === ';') {
        const end = text.indexOf('\n', at)
        at = end === -1 ? text.length : end
      } else if (character === '(') {
        depth++
        at++
      } else if (character === ')') {
        if (--depth < 0) {
          entry.fault ??= 'a closing parenthesis has no opening one'
          depth = 0
        }
        at++
      } else {
        const token = readToken(text, at)
        if (token === undefined) {
          entry.fault ??= 'a quote is not closed before the line ends'
          const end = text.indexOf('\n', at)
          at = end === -1 ? text.length : end
        } else {
          entry.tokens.push(token)
          at = token.end
        }
      }
    }
    if (depth > 0) entry.fault ??= 'a parenthesis is opened and never closed'
    entry.end = at
    yield entry
  }
}

function readToken(text: string, start: number): Token | undefined {
  let at = start
  const quoted = text[at] === '"'
  if (quoted) {
    const end = closingQuote(text, at)
    return end === undefined ? undefined : { text: text.slice(start + 1, end), quoted, start, end: end + 1 }
  }
  for (; at < text.length; at++) {
    const character = text[at]!
    if (character === '\\') {
      if (text[at + 1] !== '\n' && at + 1 < text.length) at++
    } else if (character === '"') {
      const end = closingQuote(text, at)
      if (end === undefined) return undefined
      at = end
    } else if (' \t\r\n;()'.includes(character)) break
  }
  return { text: text.slice(start, at), quoted, start, end: at }
}

function closingQuote(text: string, open: number): number | undefined {
  for (let at = open + 1; at < text.length; at++) {
    if (text[at] === '\\') at++
    else if (text[at] === '"') return at
    else if (text[at] === '\n') return undefined
  }
  return undefined
}
