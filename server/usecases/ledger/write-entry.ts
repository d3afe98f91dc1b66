import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { LedgerEntryModel, State } from '../../database/models/ledger-entry'
import type { Action } from '../../../core/ledger'
import type { LedgerEntry, Role } from '../../../core/schemas'

/** Who acts: a member, in person or through a token. */
export interface Actor {
  memberId: number | null
  name: string
  role: Role
  /** Ids of the domains a token is limited to; empty or absent for all. */
  domains?: readonly number[]
}

/** What one change writes into the ledger. */
export interface Record {
  action: Action
  subject: { kind: LedgerEntry['subject']['kind']; id: number; label: string }
  /** The links an entry about several tells of. */
  links?: readonly number[]
  reason?: string
  before: State | null
  after: State | null
  undoesId?: number
}

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
