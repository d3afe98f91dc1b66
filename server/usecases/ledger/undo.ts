import type { SubjectKind } from '../../../core/ledger'
import type { LedgerEntry } from '../../../core/schemas'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { hasParts, undoMany } from '../changes/undo-many'
import { undoCase } from '../docket/undo-case'
import { undoDomain } from '../domains/undo-domain'
import { undoPush } from '../domains/undo-push'
import { undoLink } from '../links/undo-link'
import { undoLinks } from '../links/change-links'
import { undoMiss } from '../misses/undo-miss'
import { undoSettings } from '../targets/check-settings'
import { notFound, Problem } from '../problem'
import { undoRule } from '../rules/undo-rule'
import { runChange, type Actor, type Change } from './change'
import { asOneEntry } from './one-entry'
import { isPush, refuseUndo, toEntryView } from './list-ledger'
import type { UndoRequest, UndoSubject } from './put-back'

/** How entries about each kind of subject are undone; kinds left out cannot be (core/ledger/actions.ts). */
const SUBJECTS: Partial<Record<SubjectKind, UndoSubject>> = {
  link: undoLink,
  rule: undoRule,
  domain: undoDomain,
  case: undoCase,
  links: undoLinks,
  organisation: undoSettings,
  miss: undoMiss,
}

/** Undoes the parts of an entry (./one-entry.ts), the last one first, as one entry again: all or none. */
async function undoParts(
  db: Database,
  change: Change,
  entry: LedgerEntryModel,
  parts: readonly LedgerEntryModel[],
  request: UndoRequest,
): Promise<number> {
  const open = parts.filter(({ undoneById }) => undoneById === null)
  if (open.length === 0) throw new Problem(409, 'Cannot be undone', 'Every part of this entry has been undone already.')
  const { entry: id } = await asOneEntry(
    db,
    change,
    async (noting) => {
      for (const part of open) {
        await refuseUndo(db, change.actor, part, change.transaction)
        const undone = await SUBJECTS[part.subjectKind]!(db, noting, part, request)
        await part.update({ undoneById: undone }, { transaction: change.transaction })
      }
    },
    (_done, links) => ({
      action: 'undo',
      subject: { kind: entry.subjectKind, id: entry.subjectId, label: entry.subjectLabel },
      links,
      reason: request.reason,
      before: entry.afterState,
      after: entry.beforeState,
      undoesId: entry.id,
    }),
  )
  return id!
}

/**
 * Undoes one ledger entry by a change of its own: the fields it changed go back, others stay. Where a later change
 * touched the same fields it is refused with 409 and those entries, unless `overwrite` says to go ahead. The making
 * of a link that was never live is taken back whole; any other made link is retired, so that its slug stays reserved.
 */
export async function undo(
  db: Database,
  names: NamesContext,
  actor: Actor,
  entryId: number,
  request: UndoRequest,
): Promise<LedgerEntry> {
  const pushed = await db.LedgerEntry.findByPk(entryId)
  if (pushed && isPush(pushed)) return undoPush(db, names, actor, pushed, request)
  if (pushed && (await hasParts(db, pushed))) return undoMany(db, actor, pushed, request)
  return runChange(
    db,
    actor,
    async (change) => {
      const entry = await db.LedgerEntry.findByPk(entryId, { transaction: change.transaction })
      if (!entry) throw notFound('ledger entry')
      await refuseUndo(db, actor, entry, change.transaction)
      const parts = await db.LedgerEntry.findAll({
        where: { partOf: entry.id },
        order: [['id', 'DESC']],
        transaction: change.transaction,
      })
      const id =
        parts.length > 0
          ? await undoParts(db, change, entry, parts, request)
          : await SUBJECTS[entry.subjectKind]!(db, change, entry, request)
      await entry.update({ undoneById: id }, { transaction: change.transaction })
      const made = await db.LedgerEntry.findByPk(id, { transaction: change.transaction })
      return toEntryView(db, made!, change.transaction)
    },
    { surveyed: true },
  )
}
