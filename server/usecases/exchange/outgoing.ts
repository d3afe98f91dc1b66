import { QueryTypes } from 'sequelize'
import { tableOfStates } from '../../../core/ledger'
import { readDomainRows, readRuleRows, rowOfState, RULE_FIELDS, type RuleRow } from '../../../core/rows'
import { entryRow, type Table } from '../../../core/table'
import type { Outgoing, OutLink } from '../../../core/formats/write'
import type { ExportQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { pastStates } from '../ledger/past-states'
import { readTags } from '../links/link-state'
import { fieldProblem } from '../problem'
import { tableNow } from '../replay/tables'
import { queryOf } from '../../database/query'

const PAGE = 5000

type Words = Pick<OutLink, 'title' | 'note' | 'owner'>
const NO_WORDS: Words = { title: '', note: '', owner: '' }

/** A table with what people wrote about its links, by the links' numbers, and its rules in their order. */
interface Written {
  table: Table
  words: ReadonlyMap<number, Words>
  rules: RuleRow[]
}

/** What is to be taken out: links and rules of a domain, or its links with a tag or of
 * some numbers, as they stood at a moment. */
export async function outgoingOf(db: Database, query: ExportQuery): Promise<Outgoing> {
  const { id } = await findDomainNamed(db, query.domain)
  const at = query.at === undefined ? new Date() : new Date(query.at)
  if (at.getTime() > Date.now() + 1000) throw fieldProblem('at', 'Enter a time in the past, or leave it empty for now.')
  const { table, words, rules } = query.at === undefined ? await writtenNow(db, id) : await writtenAt(db, at)
  const part = table.domains.get(id)
  if (!part) throw fieldProblem('at', `${query.domain} was not here yet at that moment.`)
  // A domain that is prepared answers nobody yet; what it would answer is what is wanted.
  const domain = { ...part.domain, open: true }
  part.domain = domain
  const ids = [...new Set([...part.links.values()].map(({ leader }) => leader))]
  const tags = new Map<number, string[]>()
  for (let from = 0; from < ids.length; from += PAGE)
    for (const [link, names] of await readTags(db, ids.slice(from, from + PAGE))) tags.set(link, names)
  const chosen = query.links === undefined ? undefined : new Set(query.links.split(',').map(Number))
  const links: OutLink[] = []
  for (const [canonical, entry] of part.links) {
    const own = tags.get(entry.leader) ?? []
    if (query.tag !== undefined && !own.includes(query.tag)) continue
    if (chosen && !chosen.has(entry.leader)) continue
    links.push({ ...entryRow(entry, id, canonical), ...(words.get(entry.leader) ?? NO_WORDS), tags: own })
  }
  links.sort((a, b) => (a.canonical < b.canonical ? -1 : 1))
  const whole = query.tag === undefined && chosen === undefined
  const mine = rules.filter(({ domainId }) => domainId === id)
  mine.sort((a, b) => a.position - b.position || a.id - b.id)
  return { domain, links, rules: whole ? mine : [], whole, table, at: at.getTime() }
}

async function writtenNow(db: Database, domainId: number): Promise<Written> {
  const table = await tableNow(db)
  const words = new Map<number, Words>()
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<Words & { id: number }>(
      `SELECT id, title, note, owner FROM link
       WHERE id > :after AND (title <> '' OR note <> '' OR owner <> '') AND
         (domain_id = :domainId OR id IN (SELECT forwards_to FROM link WHERE domain_id = :domainId))
       ORDER BY id LIMIT ${PAGE}`,
      { replacements: { after, domainId }, type: QueryTypes.SELECT },
    )
    if (rows.length === 0) break
    after = Number(rows.at(-1)!.id)
    for (const { id, title, note, owner } of rows) words.set(Number(id), { title, note: note ?? '', owner })
  }
  return { table, words, rules: await readRuleRows(queryOf(db)) }
}

async function writtenAt(db: Database, at: Date): Promise<Written> {
  const today = new Map((await readDomainRows(queryOf(db))).map((domain) => [domain.id, domain]))
  const states = await pastStates(db, at)
  const words = new Map<number, Words>()
  const rules: RuleRow[] = []
  for (const [key, state] of states) {
    const id = Number(key.slice(key.indexOf(' ') + 1))
    const text = (name: string) => (typeof state[name] === 'string' ? (state[name] as string) : '')
    if (key.startsWith('link ')) words.set(id, { title: text('title'), note: text('note'), owner: text('owner') })
    else if (key.startsWith('rule ') && state.active !== false)
      rules.push(rowOfState(RULE_FIELDS, 'table', { ...state, id }))
  }
  return { table: tableOfStates(states, today), words, rules }
}
