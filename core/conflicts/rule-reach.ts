import { conditionCovers, conditionsMeet } from '../conditions'
import { firstWords, PatternFault } from '../patterns'
import { compareRules, mayMeet, prefixesOf } from './compare-rules'
import type { SurveyState } from './state'

/** So many addresses are looked through for one that no link has; mostly the first few do. */
const MAX_WORDS = [8, 200]

/** A rule that shares addresses with another. */
export interface RuleMeeting {
  rule: number
  /** Whether the earlier of the two takes every address of the later. */
  whole: boolean
  /** A canonical slug both match. */
  witness: string
}

/** What an active rule is left with among the rules of its domain, proven on automata. */
export interface RuleReach {
  /** Rules before it that answer addresses it matches. */
  before: RuleMeeting[]
  /** Rules after it whose addresses it answers. */
  after: RuleMeeting[]
  /** An address that comes to it; undefined where there is none, or none was found among the shortest. */
  example: string | undefined
}

/**
 * How a rule stands to the others of its domain. Undefined where it is switched off, or where the patterns are too
 * involved to be compared.
 */
export function ruleReach(state: SurveyState, domainId: number, id: number): RuleReach | undefined {
  const { rules, family } = state.rulesOf(domainId)
  const mine = rules.findIndex((rule) => rule.id === id)
  if (!family || mine === -1) return undefined
  const prefixes = prefixesOf(state, domainId)
  const reach: RuleReach = { before: [], after: [], example: undefined }
  const taking: number[] = []
  for (const [other, rule] of rules.entries()) {
    if (other === mine || !mayMeet(prefixes[other]!, prefixes[mine]!)) continue
    if (!conditionsMeet(rule.condition, rules[mine]!.condition)) continue
    const [first, second] = other < mine ? [other, mine] : [mine, other]
    const comparison = compareRules(state, family, rules, first, second)
    if (comparison?.witness === undefined) continue
    const covers = conditionCovers(rules[first]!.condition, rules[second]!.condition)
    const whole = covers && (comparison.relation === 'a-covers-b' || comparison.relation === 'equal')
    const meeting = { rule: rule.id, whole, witness: comparison.witness }
    if (other < mine) {
      if (covers) taking.push(other)
      reach.before.push(meeting)
    } else reach.after.push(meeting)
  }
  reach.example = left(state, domainId, mine, taking)
  return reach
}

/** The shortest address of a rule that neither rules before it nor a link takes. */
function left(state: SurveyState, domainId: number, mine: number, taking: readonly number[]): string | undefined {
  const { links } = state.table.domains.get(domainId)!
  try {
    for (const most of MAX_WORDS) {
      const { words, all } = firstWords(state.rulesOf(domainId).family!, [mine], taking, most)
      const free = words.find((word) => !links.has(word))
      if (free !== undefined || all) return free
    }
    return undefined
  } catch (error) {
    if (error instanceof PatternFault) return undefined
    throw error
  }
}

/**
 * Before which rule one that never applies would apply again: as far up as it must go and no further, where that leaves
 * each rule it passes something. Undefined where there is no such place.
 */
export function placeToApply(state: SurveyState, domainId: number, id: number): number | undefined {
  const reach = ruleReach(state, domainId, id)
  const { rules, family } = state.rulesOf(domainId)
  if (!reach || !family) return undefined
  const at = (rule: number) => rules.findIndex((other) => other.id === rule)
  const mine = at(id)
  const before = reach.before.map(({ rule }) => at(rule))
  const taking = before.filter((other) => conditionCovers(rules[other]!.condition, rules[mine]!.condition))
  for (const passed of before.toReversed()) {
    const relation = compareRules(state, family, rules, passed, mine)?.relation
    if (relation !== 'a-covers-b' && relation !== 'overlap') return undefined
    const still = taking.filter((other) => other < passed)
    if (left(state, domainId, mine, still) !== undefined) return rules[passed]!.id
  }
  return undefined
}
