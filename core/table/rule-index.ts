import type { Condition } from '../conditions'
import type { CompiledRule } from './rule'

/** A domain's rules in their order, found by the first part of the path where a rule fixes it. */
export class RuleIndex {
  private readonly bySegment = new Map<string, CompiledRule[]>()
  private readonly general: CompiledRule[]

  constructor(readonly rules: readonly CompiledRule[]) {
    const segmentOf = (rule: CompiledRule) =>
      rule.prefix.indexOf('/', 1) > 0 ? rule.prefix.slice(1, rule.prefix.indexOf('/', 1)) : undefined
    this.general = rules.filter((rule) => segmentOf(rule) === undefined)
    for (const segment of new Set(rules.map(segmentOf))) {
      if (segment !== undefined)
        this.bySegment.set(
          segment,
          rules.filter((rule) => segmentOf(rule) === segment || segmentOf(rule) === undefined),
        )
    }
  }

  /** The rules that could take a canonical slug, in their order. */
  candidates(canonical: string): readonly CompiledRule[] {
    const slash = canonical.indexOf('/')
    return this.bySegment.get(slash === -1 ? canonical : canonical.slice(0, slash)) ?? this.general
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
