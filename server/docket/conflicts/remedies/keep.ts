import { caseState } from '../../../usecases/docket/case-state'
import { acceptConflicts } from '../../../usecases/conflicts/conflict-gate'
import { runChange } from '../../../usecases/ledger/change'
import { fieldProblem } from '../../../usecases/problem'
import type { ComposedRemedy } from '../../remedy'
import { toFinding } from '../findings'
import { viewOf, type Context } from './context'

/** Keeps a conflict with a reason; it comes back when what it is about changes. */
export function keepAsItIs(context: Context): ComposedRemedy {
  const { db, row, conflict, survey } = context
  return {
    view: viewOf(context, {
      id: 'keep',
      title: 'Accept as is, with a reason',
      sentence:
        'The case is settled with your reason. It comes back if one of these addresses, destinations or ' +
        'patterns changes.',
      asks: ['reason'],
      visitsKept: 0,
    }),
    apply: async (actor, request) => {
      const reason = request?.reason
      if (!reason) throw fieldProblem('reason', 'Enter a reason.')
      await runChange(db, actor, async (change) => {
        await row.reload({ transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
        const before = caseState(row)
        await acceptConflicts(db, change, [{ finding: toFinding(survey, conflict) }], reason)
        await change.record({
          action: 'keep',
          subject: { kind: 'case', id: row.id, label: `${row.subject}: ${row.headline}` },
          reason,
          before,
          after: { ...before, state: 'settled', reason },
        })
      })
      return 'Kept as it is.'
    },
  }
}
