import { readChanges, readRevision, readsSlugsOtherwise, stillOwned } from '../../../core/ledger-follower'
import { LinkIndex, type IndexedLink } from '../../../core/misses'
import { readDomainRows, readLinkRows, readLinkRowsById, readRuleRows, type LinkRow } from '../../../core/rows'
import { compile, patchTable, putDomain, putLink, putRules, standingAt, type Table } from '../../../core/table'
import type { Database } from '../../database/open'
import { queryOf } from '../../database/query'
import { inSteps, yielder } from '../yield-to-event-loop'

/** More entries than this are not gone through one by one. */
const MAX_ENTRIES = 2000
/** Figures of visits are taken anew so often; they change by the day. */
const FIGURES_MS = 600_000

/** The register as misses need it: what answers, and what may have been meant. */
export interface MissRegister {
  revision: number
  table: Table
  index: LinkIndex
  figuresAt: number
}

const toIndexed = (row: LinkRow, visits: number, now: number): IndexedLink => ({
  id: row.id,
  leader: row.forwardsTo ?? row.id,
  domainId: row.domainId,
  canonical: row.canonical,
  visits,
  live: standingAt(row, now) === 'live',
  shown: !row.unlisted,
})

async function load(db: Database): Promise<MissRegister> {
  // The revision first: what changes meanwhile is read again afterwards, which does no harm.
  const query = queryOf(db)
  const revision = await readRevision(query)
  const table = compile(await readDomainRows(query), [], revision)
  const links: IndexedLink[] = []
  const yieldNow = yielder('considerate')
  const now = Date.now()
  for await (const rows of readLinkRows(query)) {
    const visits = await visitsOf(db, rows)
    for (const row of rows) {
      putLink(table, row)
      links.push(toIndexed(row, visits.get(row.id) ?? 0, now))
    }
    await yieldNow()
  }
  putRules(table, await readRuleRows(query))
  return { revision, table, index: await inSteps(LinkIndex.make(links), yieldNow), figuresAt: now }
}

async function visitsOf(db: Database, rows: readonly LinkRow[]): Promise<Map<number, number>> {
  if (rows.length === 0) return new Map()
  const ids = rows.map(({ id }) => id)
  const found = await queryOf(db)(`SELECT id, visits_28 FROM link WHERE id IN (${ids.map(() => '?').join(',')})`, ids)
  return new Map(found.map((row) => [Number(row.id), Number(row.visits_28)]))
}

/** Brings a register up to the ledger; `undefined` where it has to be read anew. */
async function catchUp(db: Database, register: MissRegister): Promise<MissRegister | undefined> {
  const query = queryOf(db)
  const changes = await readChanges(query, register.revision, { limit: MAX_ENTRIES })
  if (!changes.complete) return undefined
  if (changes.revision === register.revision) return register
  const { table, index } = register
  if (changes.domains.length > 0) {
    const domains = await readDomainRows(query)
    if (domains.some((domain) => readsSlugsOtherwise(table, domain))) return undefined
    for (const domain of domains) putDomain(table, domain)
  }
  const ids = [...new Set(changes.links.map(({ id }) => id))]
  if (ids.length > 0) {
    const rows = await readLinkRowsById(query, ids)
    const visits = await visitsOf(db, rows)
    const former = changes.links.flatMap(({ id, addresses }) => addresses.map((address) => ({ ...address, link: id })))
    patchTable(table, { gone: stillOwned(table, former), links: rows })
    for (const id of ids) index.drop(id)
    for (const row of rows) index.put(toIndexed(row, visits.get(row.id) ?? 0, Date.now()))
  }
  if (changes.rules.length > 0) putRules(table, await readRuleRows(query))
  register.revision = changes.revision
  return index.isWorn ? undefined : register
}

const held = new WeakMap<Database, Promise<MissRegister>>()

/** The register this process holds, at the ledger's newest revision; all who ask at once share the work. */
export function missRegister(db: Database): Promise<MissRegister> {
  const before = held.get(db)
  const next = (async () => {
    const known = await before?.catch(() => undefined)
    if (!known || Date.now() - known.figuresAt > FIGURES_MS) return load(db)
    return (await catchUp(db, known)) ?? load(db)
  })()
  held.set(db, next)
  return next
}
