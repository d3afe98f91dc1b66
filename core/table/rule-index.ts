import type { Condition } from '../conditions'
import type { CompiledRule } from './rule'

/** So many characters of the text that every path of a rule begins with tell rules apart. */
const TELLING = 4

/**
 * A domain's rules in their order, found by the first part of the path where a rule fixes it, else by the first letters
 * it fixes.
 */
export class RuleIndex {
  private readonly bySegment = new Map<string, CompiledRule[]>()
  private readonly byBeginning = new Map<string, CompiledRule[]>()
  /** Those that fix next to nothing. */
  private readonly open: readonly CompiledRule[]

  constructor(readonly rules: readonly CompiledRule[]) {
    const segmentOf = ({ prefix }: CompiledRule) =>
      prefix.indexOf('/', 1) > 0 ? prefix.slice(1, prefix.indexOf('/', 1)) : undefined
    const beginningOf = ({ prefix }: CompiledRule) => prefix.slice(1)
    for (const segment of new Set(rules.map(segmentOf))) {
      if (segment !== undefined)
        this.bySegment.set(
          segment,
          rules.filter((rule) => {
            const own = segmentOf(rule)
            return own === undefined ? segment.startsWith(beginningOf(rule)) : own === segment
          }),
        )
    }
    const loose = rules.filter((rule) => segmentOf(rule) === undefined)
    this.open = loose.filter((rule) => beginningOf(rule).length < TELLING)
    for (const beginning of new Set(loose.map((rule) => beginningOf(rule).slice(0, TELLING)))) {
      if (beginning.length === TELLING)
        this.byBeginning.set(
          beginning,
          loose.filter((rule) => {
            const own = beginningOf(rule)
            return own.length < TELLING ? beginning.startsWith(own) : own.startsWith(beginning)
          }),
        )
    }
  }

  /** The rules that could take a canonical slug, in their order. */
  candidates(canonical: string): readonly CompiledRule[] {
    const slash = canonical.indexOf('/')
    const known = this.bySegment.get(slash === -1 ? canonical : canonical.slice(0, slash))
    return known ?? this.byBeginning.get(canonical.slice(0, TELLING)) ?? this.open
  }

  /** The conditions of all rules a canonical slug fits, worked out once they are asked for. */
  rivals(canonical: string): () => readonly Condition[] {
    let known: Condition[] | undefined
    return () =>
      (known ??= this.candidates(canonical)
        .filter((rule) => rule.row.condition.length > 0 && rule.fits(canonical))
        .map((rule) => rule.row.condition))
  }
}

export const NO_RULES = new RuleIndex([])
