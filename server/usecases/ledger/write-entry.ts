import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import type { Actor, Record } from './change'

/** Where an entry stands: its revision is given under the lock all changes take, and may be given later. */
export interface EntryPlace {
  revision: number | null
  at: Date
  liveAt?: Date | null
}

/** Writes an entry of the ledger. */
export function writeEntry(
  db: Database,
  transaction: Transaction,
  actor: Actor,
  entry: Record,
  { revision, at, liveAt = null }: EntryPlace,
): Promise<LedgerEntryModel> {
  return db.LedgerEntry.create(
    {
      revision: revision as number,
      at,
      liveAt,
      memberId: actor.memberId,
      actor: actor.name,
      action: entry.action,
      subjectKind: entry.subject.kind,
      subjectId: entry.subject.id,
      subjectLabel: entry.subject.label.slice(0, 500),
      reason: entry.reason ?? '',
      beforeState: entry.before,
      afterState: entry.after,
      undoesId: entry.undoesId ?? null,
    },
    { transaction },
  )
}
