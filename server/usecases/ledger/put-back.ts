import { isDeepStrictEqual } from 'node:util'
import { Op } from 'sequelize'
import type { Database } from '../../database/open'
import type { LedgerEntryModel, State } from '../../database/models/ledger-entry'
import { Problem } from '../problem'
import type { Change } from './change'
import { toEntryViews } from './list-ledger'

export interface UndoRequest {
  /** Go ahead although a later change of the same fields is lost. */
  overwrite: boolean
  reason?: string
}

/** Undoes an entry about one kind of subject within a change; gives the id of the entry it makes. */
export type UndoSubject = (
  db: Database,
  change: Change,
  entry: LedgerEntryModel,
  request: UndoRequest,
) => Promise<number>

/** The fields the entry changed, as they were before it; refuses where a later change touched them. */
export async function fieldsToPutBack(
  db: Database,
  change: Change,
  entry: LedgerEntryModel,
  now: State,
  request: UndoRequest,
): Promise<State> {
  await refuseOverwriting(db, change, entry, now, request)
  const { beforeState: before, afterState: after } = entry
  return Object.fromEntries(
    Object.keys(after!)
      .filter((key) => key !== 'canonical' && !isDeepStrictEqual(before![key], after![key]))
      .map((key) => [key, before![key]]),
  )
}

export async function refuseOverwriting(
  db: Database,
  change: Change,
  entry: LedgerEntryModel,
  now: State,
  request: UndoRequest,
): Promise<void> {
  const { beforeState: before, afterState: after } = entry
  // What an address is follows from its slug and the rules of the day.
  const touched = Object.keys(after!).filter(
    (key) =>
      key !== 'canonical' &&
      !isDeepStrictEqual(before?.[key], after![key]) &&
      !isDeepStrictEqual(now[key], after![key]),
  )
  if (touched.length === 0 || request.overwrite) return
  const later = await db.LedgerEntry.findAll({
    where: { subjectKind: entry.subjectKind, subjectId: entry.subjectId, id: { [Op.gt]: entry.id } },
    order: [['id', 'DESC']],
    limit: 20,
    transaction: change.transaction,
  })
  throw new Problem(
    409,
    'Would overwrite a later change',
    `Since then ${touched.join(', ')} of ${entry.subjectLabel} changed again. Undoing this would ` +
      'overwrite the later change.',
    [],
    { fields: touched, later: await toEntryViews(db, later, change.transaction) },
  )
}
