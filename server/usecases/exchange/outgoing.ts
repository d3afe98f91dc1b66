import { tableOfStates } from '../../../core/ledger'
import { rowOfState, RULE_FIELDS } from '../../../core/rows'
import { entryRow } from '../../../core/table'
import type { Outgoing, OutLink } from '../../../core/formats/write'
import type { ExportQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { pastStates } from '../ledger/past-states'
import { readTags } from '../links/link-state'
import { fieldProblem } from '../problem'
import { readDomainRows } from '../targets/table-rows'

const PAGE = 5000

/** What is to be taken out: links and rules of a domain, or its links with a tag, as they stood at a moment. */
export async function outgoingOf(db: Database, query: ExportQuery): Promise<Outgoing> {
  const { id } = await findDomainNamed(db, query.domain)
  const at = query.at === undefined ? new Date() : new Date(query.at)
  if (at.getTime() > Date.now() + 1000) throw fieldProblem('at', 'This moment lies ahead; leave it out for now.')
  const today = new Map((await readDomainRows(db)).map((domain) => [domain.id, domain]))
  const states = await pastStates(db, at)
  const table = tableOfStates(states, today)
  const part = table.domains.get(id)
  if (!part) throw fieldProblem('at', `${query.domain} was not here yet at that moment.`)
  // A domain that is prepared answers nobody yet; what it would answer is what is wanted.
  const domain = { ...part.domain, open: true }
  part.domain = domain
  const ids = [...part.links.values()].map(({ leader }) => leader)
  const tags = new Map<number, string[]>()
  for (let from = 0; from < ids.length; from += PAGE)
    for (const [link, names] of await readTags(db, ids.slice(from, from + PAGE))) tags.set(link, names)
  const links: OutLink[] = []
  for (const [canonical, entry] of part.links) {
    const own = tags.get(entry.leader) ?? []
    if (query.tag !== undefined && !own.includes(query.tag)) continue
    const state = states.get(`link ${entry.leader}`) ?? {}
    const text = (name: string) => (typeof state[name] === 'string' ? (state[name] as string) : '')
    const words = { title: text('title'), note: text('note'), owner: text('owner') }
    links.push({ ...entryRow(entry, id, canonical), ...words, tags: own })
  }
  links.sort((a, b) => (a.canonical < b.canonical ? -1 : 1))
  const whole = query.tag === undefined
  const rules = whole
    ? [...states]
        .filter(([key, state]) => key.startsWith('rule ') && state.domainId === id && state.active !== false)
        .map(([key, state]) => rowOfState(RULE_FIELDS, 'table', { ...state, id: Number(key.slice(5)) }))
        .sort((a, b) => a.position - b.position || a.id - b.id)
    : []
  return { domain, links, rules, whole, table, at: at.getTime() }
}
