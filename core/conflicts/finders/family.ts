import type { SurveyLink } from '../../rows'
import type { Finder } from '../finder'
import { rivalRule } from '../serving-rule'
import type { SurveyState } from '../state'

const MAX_LISTED = 200

/** Links of a rule's family that answer otherwise than the rule would, as one conflict of the rule. */
export function family(state: SurveyState): Finder<number> {
  // Links that lead elsewhere than the rule that would serve them, by that rule.
  const families = new Map<number, Set<number>>()
  const familyOf = new Map<number, number>()

  function join(link: SurveyLink): number | undefined {
    const rival = rivalRule(state, link)
    if (!rival) return undefined
    familyOf.set(link.id, rival.id)
    const links = families.get(rival.id)
    if (links) links.add(link.id)
    else families.set(rival.id, new Set([link.id]))
    return rival.id
  }
  function leave(id: number): number | undefined {
    const rule = familyOf.get(id)
    if (rule !== undefined) families.get(rule)?.delete(id)
    familyOf.delete(id)
    return rule
  }
  /** Brings one link up to date; gives the rules whose family it left or joined. */
  const again = (id: number): number[] => {
    const left = leave(id)
    const link = state.links.get(id)
    return [left, link && join(link)].filter((rule) => rule !== undefined)
  }

  return {
    phase: 'families',
    *all() {
      families.clear()
      familyOf.clear()
      let done = 0
      for (const link of state.links.values()) {
        join(link)
        if (++done % 200 === 0) yield undefined
      }
      yield* state.rules.keys()
    },
    *affectedBy({ links, rules, prefixes }) {
      yield* rules
      for (const id of links) yield* again(id)
      for (const [domainId, begins] of prefixes)
        for (const link of state.links.values())
          if (
            link.domainId === domainId &&
            link.canonical !== null &&
            [...begins].some((prefix) => link.canonical!.startsWith(prefix))
          )
            yield* again(link.id)
    },
    *examine(ruleId) {
      const rule = state.rules.get(ruleId)
      const differing = [...(families.get(ruleId) ?? [])]
      if (!rule || differing.length === 0) return
      differing.sort((a, b) => state.links.get(b)!.visits28 - state.links.get(a)!.visits28 || a - b)
      yield {
        kind: 'hidden',
        key: `hidden family ${ruleId}`,
        domainId: rule.domainId,
        links: differing.slice(0, MAX_LISTED),
        rules: [ruleId],
        witness: state.links.get(differing[0]!)!.canonical!,
        count: differing.length,
      }
    },
  }
}
