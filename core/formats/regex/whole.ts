import { canonicalSlug } from '../../address'
import { quoted } from '../../patterns/quoted'

/** A part of an expression between top-level bars. */
interface Alternative {
  text: string
  /** Whether “^” stood first and “$” last; both are taken away. */
  begins: boolean
  ends: boolean
  /** Whether “^” or “$” stands elsewhere in it. */
  inner: boolean
}

/** Parts an expression at its top-level bars. */
function alternativesOf(source: string): Alternative[] {
  const parts: string[] = ['']
  let depth = 0
  let inClass = false
  const inner = new Set<number>()
  const anchors: { part: number; at: number }[] = []
  for (let at = 0; at < source.length; at++) {
    let piece = source[at]!
    if (piece === '\\') piece += source[++at] ?? ''
    else if (inClass) {
      if (piece === ']') inClass = false
    } else if (piece === '[') inClass = true
    else if (piece === '(') depth++
    else if (piece === ')') depth--
    else if (piece === '|' && depth === 0) {
      parts.push('')
      continue
    } else if (piece === '^' || piece === '$') anchors.push({ part: parts.length - 1, at: parts.at(-1)!.length })
    parts[parts.length - 1] += piece
  }
  return parts.map((text, part) => {
    const own = anchors.filter((anchor) => anchor.part === part).map(({ at }) => at)
    const begins = own[0] === 0 && text.startsWith('^')
    const ends = own.at(-1) === text.length - 1 && text.endsWith('$')
    if (own.length > Number(begins) + Number(ends)) inner.add(part)
    return { text: text.slice(begins ? 1 : 0, ends ? -1 : undefined), begins, ends, inner: inner.has(part) }
  })
}

/**
 * An expression that is looked for anywhere in a text, as one that takes whole texts, which is how rules are put to
 * paths. `before` is what stands before the text it is put to: the slash, or folder, that Apache takes away first.
 * `undefined` where an anchor within it would mean another place then. Groups keep their numbers.
 */
export function wholeExpression(source: string, before = ''): string | undefined {
  const alternatives = alternativesOf(source)
  if (before !== '' && alternatives.some(({ inner }) => inner)) return undefined
  const lead = quoted(before)
  const alike = (of: 'begins' | 'ends') => alternatives.every((one) => one[of] === alternatives[0]![of])
  if (alternatives.length === 1 || (alike('begins') && alike('ends'))) {
    const { begins, ends } = alternatives[0]!
    const texts = alternatives.map(({ text }) => text)
    const body = texts.length === 1 ? texts[0]! : `(?:${texts.join('|')})`
    return lead + (begins ? '' : '.*?') + body + (ends ? '' : '.*')
  }
  // Where a match begins decides before the order does: what may begin anywhere must not stand before what may not.
  const firstLoose = alternatives.findIndex(({ begins }) => !begins)
  if (firstLoose !== -1 && alternatives.slice(firstLoose).some(({ begins }) => begins)) return undefined
  return alternatives
    .map(({ text, begins, ends }) => lead + (begins ? '' : '.*?') + text + (ends ? '' : '.*'))
    .join('|')
}

/**
 * A decoded path as an expression that takes exactly it: rules are put to canonical paths, where a blank and the like
 * stand as escapes.
 */
export function quotedPath(path: string): string {
  const canonical = canonicalSlug(path.replace(/^\//, '').replaceAll('%', '%25'), {
    capitalsMatter: true,
    trailingSlashMatters: true,
  })
  return quoted(canonical === undefined ? path : '/' + canonical)
}

/**
 * The one text an expression takes, where it takes exactly one, or that text and the same with a slash behind it;
 * `undefined` for any other. A dot is read as people mean it who write file names: `dots` tells that it stood bare.
 */
export function literalOf(whole: string): { text: string; slash: boolean; dots: boolean } | undefined {
  const slash = whole.endsWith('/?')
  const source = slash ? whole.slice(0, -2) : whole
  let text = ''
  let dots = false
  for (let at = 0; at < source.length; at++) {
    const character = source[at]!
    if (character === '\\') {
      const escaped = source[++at]
      if (escaped === undefined || /[A-Za-z0-9]/.test(escaped)) return undefined
      text += escaped
    } else if (character === '.' && !/[*+?{]/.test(source[at + 1] ?? '')) {
      dots = true
      text += '.'
    } else if (/[\^$.*+?()[\]{}|]/.test(character)) return undefined
    else text += character
  }
  return { text, slash, dots }
}
