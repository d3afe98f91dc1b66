import { fieldsToPutBack, type UndoSubject } from '../ledger/put-back'
import { notFound, Problem } from '../problem'
import { caseState, writeCase } from './case-state'

/** Takes a decision about a case back. */
export const undoCase: UndoSubject = async (db, change, entry, request) => {
  const row = await db.DocketCase.findByPk(entry.subjectId, {
    transaction: change.transaction,
    lock: change.transaction.LOCK.UPDATE,
  })
  if (!row) throw notFound('case')
  if (row.state === 'settled' && !row.keptPrint)
    throw new Problem(409, 'Cannot be undone', 'This case has been settled since.')
  const now = caseState(row)
  const after = { ...now, ...(await fieldsToPutBack(db, change, entry, now, request)) }
  const domain =
    row.domainId === null ? null : await db.Domain.findByPk(row.domainId, { transaction: change.transaction })
  return writeCase(db, change, row, domain?.host, after, 'undo', { reason: request.reason, undoesId: entry.id })
}
