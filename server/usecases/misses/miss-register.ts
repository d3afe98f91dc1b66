import { QueryTypes } from 'sequelize'
import { LinkIndex, type IndexedLink } from '../../../core/misses'
import { LINK_SELECT, toLinkRows, type LinkRow } from '../../../core/rows'
import { compile, dropLink, putDomain, putLink, putRules, standingAt, type Table } from '../../../core/table'
import type { Database } from '../../database/open'
import { readDomainRows, readRuleRows } from '../targets/table-rows'
import { inSteps, yielder } from '../yield-to-event-loop'

const PAGE = 1000
/** More entries than this are not gone through one by one. */
const MOST_ENTRIES = 2000
/** Figures of visits are taken anew so often; they change by the day. */
const FIGURES_MS = 600_000

/** The register as misses need it: what answers, and what may have been meant. */
export interface MissRegister {
  revision: number
  table: Table
  index: LinkIndex
  figuresAt: number
}

type Raw = Record<string, unknown>
const select = (db: Database, sql: string, replacements: unknown[] = []) =>
  db.sequelize.query<Raw>(sql, { replacements, type: QueryTypes.SELECT })

const revisionOf = async (db: Database) =>
  Number((await select(db, 'SELECT revision FROM organisation WHERE id = 1'))[0]?.revision ?? 0)

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
  const revision = await revisionOf(db)
  const table = compile(await readDomainRows(db), [], revision)
  const links: IndexedLink[] = []
  const yieldNow = yielder('considerate')
  const now = Date.now()
  for (let after = 0; ;) {
    const rows = await select(db, `${LINK_SELECT} WHERE l.id > ? ORDER BY l.id LIMIT ${PAGE}`, [after])
    if (rows.length === 0) break
    after = Number(rows.at(-1)!.id)
    const visits = await visitsOf(db, rows)
    for (const row of toLinkRows(rows)) {
      putLink(table, row)
      links.push(toIndexed(row, visits.get(row.id) ?? 0, now))
    }
    await yieldNow()
  }
  putRules(table, await readRuleRows(db))
  return { revision, table, index: await inSteps(LinkIndex.make(links), yieldNow), figuresAt: now }
}

async function visitsOf(db: Database, rows: readonly Raw[]): Promise<Map<number, number>> {
  if (rows.length === 0) return new Map()
  const found = await select(db, 'SELECT id, visits_28 FROM link WHERE id IN (?)', [rows.map(({ id }) => Number(id))])
  return new Map(found.map((row) => [Number(row.id), Number(row.visits_28)]))
}

/** Brings a register up to the ledger; `undefined` where it has to be read anew. */
async function catchUp(db: Database, register: MissRegister): Promise<MissRegister | undefined> {
  const entries = await select(
    db,
    `SELECT id, revision, subject_kind, subject_id, before_state FROM ledger_entry WHERE revision > ?
     ORDER BY revision LIMIT ${MOST_ENTRIES}`,
    [register.revision],
  )
  if (entries.length === MOST_ENTRIES) return undefined
  if (entries.length === 0) return register
  const { table, index } = register
  const kinds = new Set(entries.map((entry) => entry.subject_kind as string))
  if (kinds.has('domain')) {
    const domains = await readDomainRows(db)
    for (const domain of domains) {
      const before = table.domains.get(domain.id)?.domain
      const moved =
        before &&
        (before.capitalsMatter !== domain.capitalsMatter || before.trailingSlashMatters !== domain.trailingSlashMatters)
      if (moved) return undefined
      putDomain(table, domain)
    }
  }
  const many = entries.filter((entry) => entry.subject_kind === 'links').map((entry) => Number(entry.id))
  const together = many.length
    ? await select(db, 'SELECT link_id, before_state FROM ledger_entry_link WHERE entry_id IN (?)', [many])
    : []
  const single = entries.filter((entry) => entry.subject_kind === 'link')
  const ids = [
    ...new Set([...single.map((entry) => Number(entry.subject_id)), ...together.map((row) => Number(row.link_id))]),
  ]
  if (ids.length > 0) {
    for (const entry of [...single, ...together]) {
      const state = (typeof entry.before_state === 'string' ? JSON.parse(entry.before_state) : entry.before_state) as {
        domainId?: number
        canonical?: string | null
      } | null
      if (state?.domainId !== undefined && typeof state.canonical === 'string')
        dropLink(table, state.domainId, state.canonical)
    }
    for (const id of ids) index.drop(id)
    const rows = await select(db, `${LINK_SELECT} WHERE l.id IN (?) OR l.forwards_to IN (?)`, [ids, ids])
    const visits = await visitsOf(db, rows)
    for (const row of toLinkRows(rows)) {
      putLink(table, row)
      index.put(toIndexed(row, visits.get(row.id) ?? 0, Date.now()))
    }
  }
  if (kinds.has('rule')) putRules(table, await readRuleRows(db))
  register.revision = Number(entries.at(-1)!.revision)
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
