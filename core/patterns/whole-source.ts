import { re2Source } from './re2-source'
import { readPattern } from './read'
import type { Syntax } from './node'

export interface WholeSource {
  /** Takes whole paths, from their slash on. */
  expression: string
  /** The number of a capture, as it counts in the expression. */
  numberOf(name: string): number | undefined
}

/**
 * A pattern as one expression that other programs understand (Perl-compatible), with its captures by number;
 * `undefined` where it cannot be read, or needs characters beyond ASCII to be told apart.
 */
export function wholeSource(syntax: Syntax, pattern: string, fold: boolean): WholeSource | undefined {
  const reading = readPattern(syntax, pattern, fold)
  if (!reading.ok) return undefined
  const { node, captures } = reading.pattern
  // Sets reach beyond what an octet holds; those programs compare octets.
  const expression = re2Source(node)
    .replace(/\\x\{([0-9a-f]+)\}/g, (_, hex: string) => octet(parseInt(hex, 16)))
    .replace(/\(\?s:\.\)/g, '(?s:.)')
  return { expression, numberOf: (name) => captures.get(name) }
}

const octet = (code: number) => `\\x${Math.min(code, 0xff).toString(16).padStart(2, '0')}`
