import { Op, QueryTypes, type WhereOptions } from 'sequelize'
import type { LedgerEntry, LedgerQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import { notHere } from '../problem'

/** Kinds of subject whose entries can be undone. */
const UNDOABLE = new Set<LedgerEntry['subject']['kind']>(['link', 'domain', 'case', 'rule'])
/** What the watch saw, a zone that was read and a key that was set change nothing that could be put back. */
const NOT_UNDOABLE = new Set([
  'see',
  'read-zone',
  'set-key',
  'remove-key',
  'forward',
  'forward-over',
  'place',
  'unplace',
])

/** Whether an entry tells of records placed at a name server. */
export const isPush = (row: LedgerEntryModel): boolean =>
  row.subjectKind === 'domain' && Array.isArray(row.afterState?.records)

/** A ledger entry as the API tells it. */
export function tellEntry(row: LedgerEntryModel): LedgerEntry {
  return {
    id: Number(row.id),
    revision: Number(row.revision),
    at: row.at.toISOString(),
    actor: row.actor,
    action: row.action,
    subject: { kind: row.subjectKind, id: Number(row.subjectId), label: row.subjectLabel },
    reason: row.reason,
    before: row.beforeState,
    after: row.afterState,
    undoes: row.undoesId === null ? null : Number(row.undoesId),
    undoneBy: row.undoneById === null ? null : Number(row.undoneById),
    undoable: isUndoable(row),
  }
}

/** Whether an entry can be undone: links and domains, once, where there is a state to go back to or a making to take back. */
export function isUndoable(row: LedgerEntryModel): boolean {
  return (
    UNDOABLE.has(row.subjectKind) &&
    !NOT_UNDOABLE.has(row.action) &&
    row.undoneById === null &&
    (row.afterState !== null || row.subjectKind === 'rule') &&
    !(row.subjectKind === 'domain' && row.beforeState === null)
  )
}

const MENDS = { mendPunctuation: 'punctuation', mendCapitals: 'capitals', mendLookAlikes: 'look-alikes' } as const

/** What came of switching forgiveness on: how many requests it mended since, and the last of them. */
async function tellSince(db: Database, entry: LedgerEntry): Promise<{ since?: string }> {
  if (entry.subject.kind !== 'domain' || entry.after === null) return {}
  const parts = (Object.keys(MENDS) as (keyof typeof MENDS)[])
    .filter((key) => entry.after![key] === true && !entry.before?.[key])
    .map((key) => MENDS[key])
  if (parts.length === 0) return {}
  const [found] = await db.sequelize.query<{ requests: number; path: string | null }>(
    `SELECT COUNT(*) AS requests, (SELECT path FROM visit WHERE domain_id = :id AND mended IN (:parts) AND at >= :at ORDER BY at DESC LIMIT 1) AS path
     FROM visit WHERE domain_id = :id AND mended IN (:parts) AND at >= :at`,
    { replacements: { id: entry.subject.id, parts, at: new Date(entry.at) }, type: QueryTypes.SELECT },
  )
  const requests = Number(found?.requests ?? 0)
  return {
    since:
      requests === 0
        ? 'It has mended nothing yet.'
        : `It has mended ${requests.toLocaleString('en')} ${requests === 1 ? 'request' : 'requests'} since, the last one ${entry.subject.label}/${found!.path}`,
  }
}

/** One page of the ledger, newest first; with `linkId` only that link's history. */
export async function listLedger(
  db: Database,
  query: LedgerQuery,
  linkId?: number,
): Promise<{ items: LedgerEntry[]; next: string | null }> {
  if (linkId !== undefined && !(await db.Link.findByPk(linkId, { attributes: ['id'] }))) throw notHere('link')
  const where: WhereOptions<LedgerEntryModel>[] = []
  if (query.cursor) where.push({ id: { [Op.lt]: Number(query.cursor) } })
  if (query.kind) where.push({ subjectKind: query.kind })
  if (linkId !== undefined) where.push({ subjectKind: 'link', subjectId: linkId })
  if (query.q) {
    const like = { [Op.like]: `%${query.q.replace(/[\\%_]/g, '\\$&')}%` }
    where.push({
      [Op.or]: [{ subjectLabel: like }, { actor: like }, { reason: like }],
    } as WhereOptions<LedgerEntryModel>)
  }
  const rows = await db.LedgerEntry.findAll({
    where: { [Op.and]: where },
    order: [['id', 'DESC']],
    limit: query.limit + 1,
  })
  const page = rows.slice(0, query.limit)
  const items = page.map(tellEntry)
  await Promise.all(items.map(async (item) => Object.assign(item, await tellSince(db, item))))
  return { items, next: rows.length > query.limit ? String(page.at(-1)!.id) : null }
}
