import { destinationKey } from '../address'
import {
  covers,
  exampleQuery,
  isEndless,
  meet,
  PatternFault,
  readCondition,
  relate,
  witnesses,
  type Comparison,
  type Family,
} from '../patterns'
import type { Conflict, SurveyLink, SurveyRule } from './model'
import type { SurveyState } from './state'

const condition = (rule: SurveyRule) => readCondition(rule.queryMode, rule.queryText)
const MOST_LISTED = 200
/** So many addresses of a rule that only links would leave unserved are looked at. */
const MOST_WORDS = 200

/** Hidden and overlapping rules of a domain, each with a witness computed from the patterns. */
export function ruleConflicts(state: SurveyState, domainId: number): Conflict[] {
  const { rules, family } = state.rulesOf(domainId)
  if (!family) return []
  const found: Conflict[] = []
  const conditions = rules.map(condition)
  // A slash at the end of a prefix may go unspelled.
  const prefixes = state.table.domains.get(domainId)!.rules.rules.map(({ prefix }) => prefix.replace(/\/$/, ''))
  for (let index = 0; index < rules.length; index++) {
    const rule = rules[index]!
    const earlier: number[] = []
    for (let other = 0; other < index; other++) {
      if (!mayMeet(prefixes[other]!, prefixes[index]!) || !meet(conditions[other]!, conditions[index]!)) continue
      const comparison = compare(state, family, rules, other, index)
      if (!comparison || comparison.witness === undefined) continue
      if (covers(conditions[other]!, conditions[index]!)) earlier.push(other)
      // The narrower one first is how families with exceptions are written; the broader one first hides it and is told as such.
      if (comparison.relation === 'overlap') {
        found.push({
          kind: 'overlapping',
          key: `overlapping ${pairKey(rules[other]!, rule)}`,
          domainId,
          links: [],
          rules: [rules[other]!.id, rule.id],
          witness: comparison.witness,
          query: exampleQuery(condition(rules[other]!), condition(rule)),
        })
      }
    }
    const hidden = isHidden(state, family, domainId, index, earlier)
    if (hidden !== undefined) {
      const takers = rules
        .slice(0, index)
        .filter(
          (_, other) => earlier.includes(other) && compare(state, family, rules, other, index)?.witness !== undefined,
        )
      found.push({
        kind: 'hidden',
        key: `hidden rule ${rule.id}`,
        domainId,
        links: [],
        rules: [rule.id, ...takers.map(({ id }) => id)],
        witness: hidden,
        query: exampleQuery(condition(rule)),
      })
    }
  }
  return found
}

const mayMeet = (a: string, b: string) => a.startsWith(b) || b.startsWith(a)

const pairKey = (a: SurveyRule, b: SurveyRule) => (a.id < b.id ? `${a.id} ${b.id}` : `${b.id} ${a.id}`)

/** A witness where earlier rules and links leave nothing to a rule; `undefined` where something is left or nobody can tell. */
function isHidden(
  state: SurveyState,
  family: Family,
  domainId: number,
  index: number,
  earlier: readonly number[],
): string | undefined {
  const links = state.table.domains.get(domainId)!.links
  try {
    // Without rules before it and with endless addresses, no number of links can hide it.
    if (earlier.length === 0 && isEndless(family.dfas[index]!)) return undefined
    const rest = witnesses(family, [index], earlier, MOST_WORDS + 1)
    if (rest.length === 0) return witnesses(family, [index], [])[0]
    if (rest.length > MOST_WORDS) return undefined
    for (const word of rest) state.decisive.add(state.address(domainId, word))
    return rest.every((word) => links.has(word)) ? rest[0] : undefined
  } catch (error) {
    if (error instanceof PatternFault) return undefined
    throw error
  }
}

function compare(
  state: SurveyState,
  family: Family,
  rules: readonly SurveyRule[],
  a: number,
  b: number,
): Comparison | undefined {
  const { capitalsMatter, trailingSlashMatters } = family.sameness
  const side = (rule: SurveyRule) => `${rule.syntax}\n${rule.pattern}\n${rule.except.join(' ')}`
  const key = `${capitalsMatter}${trailingSlashMatters}\n${side(rules[a]!)}\n${side(rules[b]!)}`
  let known = state.comparisons.get(key)
  if (!known) {
    try {
      known = relate(family, a, b)
    } catch (error) {
      if (error instanceof PatternFault) return undefined
      throw error
    }
    if (state.comparisons.size > 200_000) state.comparisons.clear()
    state.comparisons.set(key, known)
  }
  return known
}

/** The rule that would serve a canonical slug asked for plainly, were there no link. */
export function servingRule(
  state: SurveyState,
  domainId: number,
  canonical: string,
): { rule: SurveyRule; location: string } | undefined {
  for (const compiled of state.table.domains.get(domainId)?.rules.candidates(canonical) ?? []) {
    if (!compiled.plain) continue
    const entry = compiled.take(canonical, '')
    if (entry) return { rule: state.rules.get(compiled.row.id)!, location: entry.destination }
  }
  return undefined
}

/** The rule that would serve a link's address, where it would lead elsewhere than the link does. */
export function rivalRule(state: SurveyState, link: SurveyLink): SurveyRule | undefined {
  if (!state.counts(link)) return undefined
  const serving = servingRule(state, link.domainId, link.canonical)
  return serving &&
    serving.location !== link.destination &&
    destinationKey(serving.location) !== destinationKey(link.destination)
    ? serving.rule
    : undefined
}

/** Links of a rule's family that answer otherwise than the rule would, as one conflict of the rule. */
export function familyConflict(state: SurveyState, rule: SurveyRule, differing: number[]): Conflict | undefined {
  if (differing.length === 0) return undefined
  differing.sort((a, b) => state.links.get(b)!.visits28 - state.links.get(a)!.visits28 || a - b)
  return {
    kind: 'hidden',
    key: `hidden family ${rule.id}`,
    domainId: rule.domainId,
    links: differing.slice(0, MOST_LISTED),
    rules: [rule.id],
    witness: state.links.get(differing[0]!)!.canonical!,
    count: differing.length,
  }
}
