import { canonicalSlug } from '../address'
import { domainRowOfState, LINK_FIELDS, RULE_FIELDS, rowOfState, type DomainRow, type LinkRow } from '../rows'
import { compile, type Table } from '../table'
import { subjectKey, type States } from './as-of'

const idOf = (key: string) => Number(key.slice(key.indexOf(' ') + 1))
const ANSWERS = Object.entries(LINK_FIELDS)
  .filter(([, { answers }]) => answers)
  .map(([name]) => name)

/**
 * The table as it stood when domains, rules and links had these states. `today` tells how domains read addresses now:
 * where one read them otherwise then, its links had other addresses.
 */
export function tableOfStates(states: States, today: ReadonlyMap<number, DomainRow>, revision = 0): Table {
  const domains = new Map<number, DomainRow>()
  for (const [key, state] of states)
    if (key.startsWith('domain ')) domains.set(idOf(key), domainRowOfState({ ...state, id: idOf(key) }))
  return compile(domains.values(), linkRows(states, domains, today), revision, ruleRows(states))
}

function* ruleRows(states: States) {
  for (const [key, state] of states)
    if (key.startsWith('rule ') && state.active !== false)
      yield rowOfState(RULE_FIELDS, 'table', { ...state, id: idOf(key) })
}

function* linkRows(
  states: States,
  domains: ReadonlyMap<number, DomainRow>,
  today: ReadonlyMap<number, DomainRow>,
): Generator<LinkRow> {
  for (const [key, state] of states) {
    if (!key.startsWith('link ')) continue
    const domain = domains.get(state.domainId as number)
    if (!domain || state.canonical === null || state.canonical === undefined) continue
    const now = today.get(domain.id)
    const reread =
      now?.capitalsMatter !== domain.capitalsMatter || now.trailingSlashMatters !== domain.trailingSlashMatters
    const canonical = reread ? canonicalSlug(state.slug as string, domain) : (state.canonical as string)
    if (canonical === undefined) continue
    // A forwarding slug answers as its link does.
    const leader = typeof state.forwardsTo === 'number' ? states.get(subjectKey('link', state.forwardsTo)) : undefined
    const answers = leader ? Object.fromEntries(ANSWERS.map((name) => [name, leader[name]])) : {}
    yield rowOfState(LINK_FIELDS, 'table', { ...state, ...answers, canonical, id: idOf(key) }) as LinkRow
  }
}
