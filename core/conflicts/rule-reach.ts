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
 * Before which rule one that never applies would apply again: the first of those that take its addresses, where moving
 * it there leaves each of them something. Undefined where that is not so.
 */
export function placeToApply(state: SurveyState, domainId: number, id: number): number | undefined {
  const reach = ruleReach(state, domainId, id)
  if (!reach || reach.before.length === 0) return undefined
  const { rules, family } = state.rulesOf(domainId)
  const at = (rule: number) => rules.findIndex((other) => other.id === rule)
  const spares = reach.before.every(({ rule }) => {
    const relation = compareRules(state, family!, rules, at(rule), at(id))?.relation
    return relation === 'a-covers-b' || relation === 'overlap'
  })
  return spares ? reach.before[0]!.rule : undefined
}
