import { isDeepStrictEqual } from 'node:util'
import type { Action } from '../../../core/ledger'
import type { Database } from '../../database/open'
import type { State } from '../../database/models/ledger-entry'
import { refuseLoops } from '../conflicts/conflict-gate'
import type { Change } from '../ledger/change'
import type { UndoSubject } from '../ledger/put-back'
import { Problem } from '../problem'
import { writeLink } from './change-link'
import { findLink } from './find-link'
import { checkLeading } from './link-rules'
import { linkState, readTags, type TaggedLinkState } from './link-state'

/** The fields several links can be given at once. */
export type SharedFields = Partial<Pick<TaggedLinkState, 'destination' | 'standing' | 'resumesAt'>>

type States = Record<string, SharedFields>
const FIELDS = ['destination', 'standing', 'resumesAt'] as const

/**
 * Changes several links in one change with one ledger entry, each to fields of its own. One alone is told as a change
 * of that link. Refuses circles and destinations its domain does not allow, all or none.
 */
export async function changeLinks(
  db: Database,
  change: Change,
  wishes: ReadonlyMap<number, SharedFields>,
  about: { action: Action; reason: string; label: string },
): Promise<number> {
  const { before, after, first } = await writeAll(db, change, wishes)
  const ids = [...wishes.keys()]
  await refuseLoops(db, change, { links: ids })
  if (ids.length === 1)
    return change.record({
      action: about.action,
      subject: { kind: 'link', id: ids[0]!, label: first!.label },
      reason: about.reason,
      before: first!.before,
      after: first!.after,
    })
  return change.record({
    action: about.action,
    subject: { kind: 'links', id: 0, label: about.label },
    links: ids,
    reason: about.reason,
    before: { links: before },
    after: { links: after },
  })
}

async function writeAll(db: Database, change: Change, wishes: ReadonlyMap<number, SharedFields>) {
  const before: States = {}
  const after: States = {}
  let first: { label: string; before: State; after: State } | undefined
  // In the order of their numbers, so that no two changes wait for each other.
  for (const [id, wish] of [...wishes].sort(([a], [b]) => a - b)) {
    const { link, domain } = await findLink(db, id, change.transaction)
    const tags = (await readTags(db, [id], change.transaction)).get(id)!
    const was = linkState(link, tags)
    if (wish.destination !== undefined) await checkLeading(db, change, was, domain, 'destination', wish.destination)
    await writeLink(db, change, link, domain, { ...was, ...wish })
    const now = linkState(link, tags)
    const changed = FIELDS.filter((field) => field in wish)
    before[id] = Object.fromEntries(changed.map((field) => [field, was[field]]))
    after[id] = Object.fromEntries(changed.map((field) => [field, now[field]]))
    first ??= { label: `${domain.host}/${link.slug}`, before: was as unknown as State, after: now as unknown as State }
  }
  return { before, after, first }
}

/** Puts back what an entry changed of several links; refused where one of them changed again since. */
export const undoLinks: UndoSubject = async (db, change, entry, request) => {
  const was = (entry.beforeState as { links?: States } | null)?.links
  const became = (entry.afterState as { links?: States } | null)?.links
  if (!was || !became) throw new Problem(409, 'Cannot be undone', 'This entry holds nothing that could be put back.')
  const ids = Object.keys(was).map(Number)
  const rows = await db.Link.findAll({ where: { id: ids }, transaction: change.transaction })
  const gone = ids.filter((id) => !rows.some((row) => row.id === id))
  const touched = rows.filter((row) =>
    Object.entries(became[row.id] ?? {}).some(
      ([field, value]) => !isDeepStrictEqual(plain(row[field as keyof SharedFields]), value),
    ),
  )
  if (touched.length > 0 && !request.overwrite)
    throw new Problem(
      409,
      'Would overwrite a later change',
      `Since then ${touched.length === 1 ? `${touched[0]!.slug} was` : `${touched.length} of these links were`} ` +
        'changed again. Undoing this would overwrite the later change.',
      [],
      { fields: [...FIELDS], later: [] },
    )
  const wishes = new Map(ids.filter((id) => !gone.includes(id)).map((id) => [id, was[id]!]))
  const { before, after } = await writeAll(db, change, wishes)
  await refuseLoops(db, change, { links: [...wishes.keys()] })
  return change.record({
    action: 'undo',
    subject: { kind: 'links', id: 0, label: entry.subjectLabel },
    links: [...wishes.keys()],
    reason: request.reason,
    before: { links: before },
    after: { links: after },
    undoesId: entry.id,
  })
}

const plain = (value: unknown) => (value instanceof Date ? value.toISOString() : (value ?? null))
