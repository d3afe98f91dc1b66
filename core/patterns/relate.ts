import type { Sameness } from '../address/slug'
import { compileFamily, witnesses, type Compared, type Family } from './family'
import { PatternFault, type Pattern, type Relation } from './node'

export interface Comparison {
  relation: Relation
  /** A canonical slug that both take; `undefined` where they are disjoint. */
  witness: string | undefined
  /** One that only the first takes. */
  onlyA: string | undefined
  onlyB: string | undefined
}

/** How two members of a family stand to each other, proven, with a witness for each claim that something exists. */
export function relate(family: Family, a: number, b: number): Comparison {
  const [witness] = witnesses(family, [a, b], [])
  const [onlyA] = witnesses(family, [a], [b])
  const [onlyB] = witnesses(family, [b], [a])
  const relation: Relation =
    witness === undefined
      ? onlyA === undefined && onlyB === undefined
        ? 'equal'
        : 'disjoint'
      : onlyB === undefined
        ? onlyA === undefined
          ? 'equal'
          : 'a-covers-b'
        : onlyA === undefined
          ? 'b-covers-a'
          : 'overlap'
  return { relation, witness, onlyA, onlyB }
}

/** Compares two patterns on a domain that reads its addresses so. `at` tells which one is too involved. */
export function comparePatterns(
  a: Pattern,
  b: Pattern,
  sameness: Sameness,
): { ok: true; comparison: Comparison } | { ok: false; at: number; sentence: string } {
  const reading = compileFamily([{ pattern: a }, { pattern: b }], sameness)
  if (!reading.ok) return reading
  try {
    return { ok: true, comparison: relate(reading.family, 0, 1) }
  } catch (error) {
    if (error instanceof PatternFault) return { ok: false, at: 1, sentence: error.message }
    throw error
  }
}

/**
 * Whether a pattern can be proved apart from others at all; a sentence where it is too involved, or takes no address.
 */
export function judgePattern(compared: Compared, sameness: Sameness): string | undefined {
  const reading = compileFamily([compared], sameness)
  if (!reading.ok) return reading.sentence
  return witnesses(reading.family, [0], []).length === 0 ? 'This pattern matches no address.' : undefined
}
