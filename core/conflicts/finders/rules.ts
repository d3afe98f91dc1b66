import { conditionCovers, conditionsMeet, exampleVisitor } from '../../conditions'
import { firstWords, isEndless, PatternFault, witnesses, type Family } from '../../patterns'
import type { SurveyRule } from '../../rows'
import type { Finder } from '../finder'
import type { Conflict } from '../model'
import { compareRules, mayMeet, prefixesOf } from '../compare-rules'
import type { SurveyState } from '../state'

/** So many addresses of a rule that only links would leave unserved are looked at. */
const MAX_WORDS = 200

/** Hidden and overlapping rules of a domain, each with a witness computed from the patterns. */
export const rules = (state: SurveyState): Finder<number> => ({
  phase: 'rules',
  all: () => state.domains.keys(),
  *affectedBy({ prefixes, addresses }) {
    yield* prefixes.keys()
    // Links may be all that is left to a rule.
    for (const address of addresses)
      if (state.decisive.has(address)) yield state.table.hosts.get(address.slice(0, address.indexOf('/')))!.domain.id
  },
  examine: (domainId) => ruleConflicts(state, domainId),
})

function* ruleConflicts(state: SurveyState, domainId: number): Generator<Conflict | undefined> {
  const { rules, family } = state.rulesOf(domainId)
  if (!family) return
  const conditions = rules.map((rule) => rule.condition)
  const prefixes = prefixesOf(state, domainId)
  for (let index = 0; index < rules.length; index++) {
    yield undefined
    const rule = rules[index]!
    const earlier: number[] = []
    for (let other = 0; other < index; other++) {
      if (!mayMeet(prefixes[other]!, prefixes[index]!) || !conditionsMeet(conditions[other]!, conditions[index]!))
        continue
      const comparison = compareRules(state, family, rules, other, index)
      if (!comparison || comparison.witness === undefined) continue
      if (conditionCovers(conditions[other]!, conditions[index]!)) earlier.push(other)
      // The narrower one first is how families with exceptions are written; the broader one first hides it and is told
      // as such.
      if (comparison.relation === 'overlap') {
        yield {
          kind: 'overlapping',
          key: `overlapping ${pairKey(rules[other]!, rule)}`,
          domainId,
          links: [],
          rules: [rules[other]!.id, rule.id],
          witness: comparison.witness,
          visitor: exampleVisitor(conditions[other]!, conditions[index]!),
        }
      }
    }
    const hidden = isHidden(state, family, domainId, index, earlier)
    if (hidden !== undefined) {
      const takers = rules
        .slice(0, index)
        .filter(
          (_, other) =>
            earlier.includes(other) && compareRules(state, family, rules, other, index)?.witness !== undefined,
        )
      yield {
        kind: 'hidden',
        key: `hidden rule ${rule.id}`,
        domainId,
        links: [],
        rules: [rule.id, ...takers.map(({ id }) => id)],
        witness: hidden,
        visitor: exampleVisitor(conditions[index]!),
      }
    }
  }
}

const pairKey = (a: SurveyRule, b: SurveyRule) => (a.id < b.id ? `${a.id} ${b.id}` : `${b.id} ${a.id}`)

/**
 * A witness where earlier rules and links leave nothing to a rule; `undefined` where something is left or nobody can
 * tell.
 */
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
    if (witnesses(family, [index], earlier).length === 0) return witnesses(family, [index], [])[0]
    const rest = firstWords(family, [index], earlier, MAX_WORDS)
    if (!rest.all) return undefined
    for (const word of rest.words) state.decisive.add(state.address(domainId, word))
    return rest.words.every((word) => links.has(word)) ? rest.words[0] : undefined
  } catch (error) {
    if (error instanceof PatternFault) return undefined
    throw error
  }
}
