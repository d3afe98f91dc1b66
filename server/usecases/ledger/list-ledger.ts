import { DateTime } from 'luxon'
import { literal, Op, QueryTypes, type Transaction, type WhereOptions } from 'sequelize'
import { undoRole } from '../../../core/ledger'
import { mayAct, type LedgerEntry, type LedgerQuery, type Role } from '../../../core/schemas'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import { rawVisits } from '../traffic/visit-parts'
import { visitsSince } from './visits-since'
import { organisationDay } from '../misses/organisation-day'
import { notFound, Problem } from '../problem'
import { readHosts, withHost } from './with-host'
import type { Actor } from './change'

/** Whether an entry tells of records placed at a name server. */
export const isPush = (row: LedgerEntryModel): boolean =>
  row.subjectKind === 'domain' && Array.isArray(row.afterState?.records)

/** How many undoings of undoings are followed to what was done in the first place. */
const MAX_STEPS = 50

/**
 * The action each entry did in the first place, by the entry's id: its own, and for an undoing that of the entry at the
 * beginning of the chain.
 */
async function firstActions(
  db: Database,
  rows: readonly LedgerEntryModel[],
  transaction?: Transaction,
): Promise<Map<number, string>> {
  const known = new Map(rows.map((row) => [row.id, row]))
  let wanted = rows
  for (let step = 0; step < MAX_STEPS; step++) {
    const ids = new Set(
      wanted.flatMap((row) => (row.undoesId === null || known.has(row.undoesId) ? [] : [row.undoesId])),
    )
    if (ids.size === 0) break
    wanted = await db.LedgerEntry.findAll({ where: { id: [...ids] }, transaction })
    for (const row of wanted) known.set(row.id, row)
  }
  const first = (row: LedgerEntryModel): string => {
    let at: LedgerEntryModel | undefined = row
    for (let step = 0; at && at.undoesId !== null && step <= MAX_STEPS; step++) at = known.get(at.undoesId)
    return at?.action ?? row.action
  }
  return new Map(rows.map((row) => [row.id, first(row)]))
}

/** Who may undo an entry; `undefined` where it was undone already or holds nothing that could be put back. */
function roleToUndo(row: LedgerEntryModel, firstAction: string): Role | undefined {
  // A rule or domain that was removed, and a slug that was taken away from its link, can be made again.
  const again = row.subjectKind === 'rule' || ['alias', 'unalias', 'remove'].includes(firstAction)
  if (row.undoneById !== null || (row.afterState === null && !again)) return undefined
  if (row.subjectKind === 'domain' && row.beforeState === null) return undefined
  return undoRole(firstAction, row.subjectKind)
}

/** Ledger entries as the API tells them. */
export async function toEntryViews(
  db: Database,
  rows: readonly LedgerEntryModel[],
  transaction?: Transaction,
): Promise<LedgerEntry[]> {
  const actions = await firstActions(db, rows, transaction)
  return rows.map((row) => {
    const role = roleToUndo(row, actions.get(row.id)!)
    return {
      id: row.id,
      revision: row.revision,
      at: row.at.toISOString(),
      actor: row.actor,
      action: row.action,
      subject: { kind: row.subjectKind, id: row.subjectId, label: row.subjectLabel },
      reason: row.reason,
      before: row.beforeState,
      after: row.afterState,
      undoes: row.undoesId === null ? null : row.undoesId,
      undoneBy: row.undoneById === null ? null : row.undoneById,
      undoable: role !== undefined,
      undoRole: role ?? null,
    }
  })
}

export const toEntryView = async (
  db: Database,
  row: LedgerEntryModel,
  transaction?: Transaction,
): Promise<LedgerEntry> => (await toEntryViews(db, [row], transaction))[0]!

/** Refuses an undoing by somebody who may not do the thing itself, and one of what cannot be undone. */
export async function refuseUndo(
  db: Database,
  actor: Actor,
  row: LedgerEntryModel,
  transaction?: Transaction,
): Promise<void> {
  const action = (await firstActions(db, [row], transaction)).get(row.id)!
  const may = undoRole(action, row.subjectKind)
  if (may !== undefined && !mayAct(actor.role, may))
    throw new Problem(
      403,
      'Not allowed',
      `Undoing this needs the role ${may}, as doing it does; yours is ${actor.role}.`,
    )
  if (roleToUndo(row, action) !== undefined) return
  throw new Problem(
    409,
    'Cannot be undone',
    row.undoneById === null ? 'This entry cannot be undone.' : 'This entry has been undone already.',
  )
}

const MENDS = { mendPunctuation: 'punctuation', mendCapitals: 'capitals', mendLookAlikes: 'look-alikes' } as const

/** What came of switching forgiveness on: how many requests it mended since, and the last of them. */
async function describeSince(
  db: Database,
  entry: LedgerEntry,
  organisation: Awaited<ReturnType<typeof organisationDay>>,
): Promise<{ since?: string }> {
  const visits = await visitsSince(db, entry, organisation)
  if (visits !== undefined) return { since: visits }
  if (entry.subject.kind !== 'domain' || entry.after === null) return {}
  const parts = (Object.keys(MENDS) as (keyof typeof MENDS)[])
    .filter((key) => entry.after![key] === true && !entry.before?.[key])
    .map((key) => MENDS[key])
  if (parts.length === 0) return {}
  const { timeZone } = organisation
  const kept = DateTime.now().minus({ days: organisation.visitDays })
  const whole = DateTime.fromISO(entry.at) > kept
  const from = whole ? DateTime.fromISO(entry.at) : kept
  const next = from.setZone(timeZone).startOf('day').plus({ days: 1 })
  const replacements = {
    id: entry.subject.id,
    parts,
    at: from.toJSDate(),
    nextDay: next.toISODate(),
  }
  // The day of the entry visit by visit, from its moment on; days since as they were counted.
  const [found] = await db.sequelize.query<{ requests: string }>(
    `SELECT COALESCE(SUM(requests), 0) AS requests FROM stray_day
     WHERE domain_id = :id AND mended IN (:parts) AND day >= :nextDay`,
    { replacements, type: QueryTypes.SELECT },
  )
  let early = 0
  for await (const { kind, domainId, mended } of rawVisits(db, replacements.at, next.toJSDate()))
    if (kind === 'visit' && domainId === entry.subject.id && (parts as readonly string[]).includes(mended)) early++
  const [last] = await db.sequelize.query<{ path: string }>(
    `SELECT path FROM stray_day WHERE domain_id = :id AND mended IN (:parts) AND last_at >= :at
     ORDER BY last_at DESC LIMIT 1`,
    { replacements, type: QueryTypes.SELECT },
  )
  const requests = early + Number(found?.requests ?? 0)
  const since = whole ? 'since' : `in the last ${organisation.visitDays} days`
  if (requests === 0) return { since: whole ? 'It has corrected nothing yet.' : `It has corrected nothing ${since}.` }
  return {
    since:
      `It has corrected ${requests.toLocaleString('en')} ${requests === 1 ? 'request' : 'requests'} ${since}, ` +
      `the last one ${entry.subject.label}/${last?.path ?? ''}`,
  }
}

type Half = LedgerEntry['before']

/** What entries about several links did to one of them: kept beside the entry, or within it by older releases. */
async function partsOf(db: Database, entries: readonly LedgerEntry[], linkId: number): Promise<LedgerEntry[]> {
  const several = entries.filter(({ subject }) => subject.kind === 'links').map(({ id }) => id)
  const rows =
    several.length === 0
      ? []
      : await db.sequelize.query<{ entry_id: number; before_state: unknown; after_state: unknown }>(
          'SELECT entry_id, before_state, after_state FROM ledger_entry_link WHERE link_id = ? AND entry_id IN (?)',
          { replacements: [linkId, several], type: QueryTypes.SELECT },
        )
  const hosts = rows.length === 0 ? new Map<number, string>() : await readHosts(db)
  const beside = new Map(rows.map((row) => [Number(row.entry_id), row]))
  return entries.map((entry) => {
    if (entry.subject.kind !== 'links') return entry
    const within = (state: Half) => (state?.links as Record<string, Record<string, unknown>> | undefined)?.[linkId]
    const own = beside.get(entry.id)
    return {
      ...entry,
      before: withHost(fromJson<Half>(own?.before_state), hosts) ?? within(entry.before) ?? null,
      after: withHost(fromJson<Half>(own?.after_state), hosts) ?? within(entry.after) ?? null,
    }
  })
}

/** Subjects of which only administrators see anything elsewhere; of what these did, nobody else reads here. */
const ADMINISTRATORS_ONLY = ['member', 'token', 'organisation']

/** Entries by which something came to lead, or leads no more, to what looks like a part of a destination. */
async function leadsTo(db: Database, q: string) {
  if (!/[./]/.test(q)) return []
  // An address of ours is looked for among subjects; all that ever led anywhere is a longer list.
  const host = q.replace(/^https?:\/\//i, '').split('/')[0]!
  if ((await db.Domain.count({ where: { host: host.toLowerCase() } })) > 0) return []
  const like = db.sequelize.escape(`%${q.replace(/[\\%_]/g, '\\$&')}%`)
  const where = (state: string) => `JSON_VALUE(${state}, '$.destination') LIKE ${like}`
  const either = `(${where('before_state')} OR ${where('after_state')})`
  return [literal(either), literal(`id IN (SELECT entry_id FROM ledger_entry_link WHERE ${either})`)]
}

/** One page of the ledger as somebody may see it, newest first; with `linkId` only that link's history. */
export async function listLedger(
  db: Database,
  actor: Actor,
  query: LedgerQuery,
  linkId?: number,
  { told = true } = {},
): Promise<{ items: LedgerEntry[]; next: string | null }> {
  if (linkId !== undefined && !(await db.Link.findByPk(linkId, { attributes: ['id'] }))) throw notFound('link')
  // What is a part of another entry is told with it.
  const where: WhereOptions<LedgerEntryModel>[] = [{ partOf: null }]
  if (query.cursor) where.push({ id: { [Op.lt]: Number(query.cursor) } })
  if (!mayAct(actor.role, 'administrator')) where.push({ subjectKind: { [Op.notIn]: ADMINISTRATORS_ONLY } })
  if (query.kind) where.push({ subjectKind: query.kind })
  if (linkId !== undefined)
    where.push({
      [Op.or]: [
        { subjectKind: 'link', subjectId: linkId },
        // Entries about several links, and those of its further slugs, which are part of it.
        { id: { [Op.in]: literal(`(SELECT entry_id FROM ledger_entry_link WHERE link_id = ${Number(linkId)})`) } },
      ],
    } as WhereOptions<LedgerEntryModel>)
  if (query.q) {
    const like = { [Op.like]: `%${query.q.replace(/[\\%_]/g, '\\$&')}%` }
    where.push({
      [Op.or]: [{ subjectLabel: like }, { actor: like }, { reason: like }, ...(await leadsTo(db, query.q))],
    } as WhereOptions<LedgerEntryModel>)
  }
  const rows = await db.LedgerEntry.findAll({
    where: { [Op.and]: where },
    order: [['id', 'DESC']],
    limit: query.limit + 1,
  })
  const page = rows.slice(0, query.limit)
  const views = await toEntryViews(db, page)
  const items = linkId === undefined ? views : await partsOf(db, views, linkId)
  if (told) {
    const organisation = await organisationDay(db)
    await Promise.all(items.map(async (item) => Object.assign(item, await describeSince(db, item, organisation))))
  }
  return { items, next: rows.length > query.limit ? String(page.at(-1)!.id) : null }
}
