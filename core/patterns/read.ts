import { foldCase } from '../address/case-folding'
import { readExpression } from './expression'
import { MAX_PATTERN, PatternFault, type Node, type PatternReading, type Syntax } from './node'
import { readPathPattern } from './path-pattern'

/**
 * Reads a rule's pattern. Both kinds are put to the whole path, which begins with “/”. Where capitals do not matter on
 * the domain, `fold` reads the pattern without regard to them. What cannot be read is told in a sentence.
 */
export function readPattern(syntax: Syntax, source: string, fold: boolean): PatternReading {
  if (source === '') return { ok: false, sentence: 'Give a pattern, like /stop/:id.' }
  if (source.length > MAX_PATTERN) return { ok: false, sentence: `A pattern can be at most ${MAX_PATTERN} characters.` }
  try {
    if (syntax === 'path') {
      if (!/^[/*{(]/.test(source)) return { ok: false, sentence: 'A path pattern begins with “/”, like /stop/:id.' }
      const { node, captures } = readPathPattern(source, fold)
      return { ok: true, pattern: { syntax, source, node, captures, prefix: prefixOf(node, fold) } }
    }
    const { node, names, groups } = readExpression(source, fold)
    const captures = new Map<string, number>(Array.from({ length: groups }, (_, at) => [String(at + 1), at + 1]))
    for (const [name, index] of names) captures.set(name, index)
    return { ok: true, pattern: { syntax, source, node, captures, prefix: prefixOf(node, fold) } }
  } catch (error) {
    if (error instanceof PatternFault) return { ok: false, sentence: error.message }
    throw error
  }
}

/** The literal text every match begins with, in folded form where capitals do not matter. */
function prefixOf(node: Node, fold: boolean): string {
  let prefix = ''
  /** Whether what follows still stands right after the prefix. */
  const walk = (part: Node): boolean => {
    switch (part.kind) {
      case 'empty':
        return true
      case 'assert':
        return true
      case 'group':
        return walk(part.item)
      case 'cat':
        return part.items.every(walk)
      case 'repeat':
        return part.min === 1 && part.max === 1 && walk(part.item)
      case 'set': {
        const codes = part.set.flatMap(([low, high]) =>
          high - low > 4 ? [-1, -2] : Array.from({ length: high - low + 1 }, (_, at) => low + at),
        )
        const characters = new Set(
          codes.map((code) =>
            code < 0 ? String(code) : fold ? foldCase(String.fromCodePoint(code)) : String.fromCodePoint(code),
          ),
        )
        const [only] = characters
        if (characters.size !== 1 || only === undefined || only.length > 1 || only > '\x7f') return false
        prefix += only
        return true
      }
      case 'alt':
        return false
    }
  }
  walk(node)
  return prefix
}
