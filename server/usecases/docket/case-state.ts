import type { Action } from '../../../core/ledger'
import type { Case } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { State } from '../../database/models/ledger-entry'
import type { Change } from '../ledger/change'

/** What the ledger keeps of a case: what people decide about it. */
export const caseState = (row: DocketCaseModel): State => ({
  state: row.state,
  setAsideUntil: row.setAsideUntil?.toISOString() ?? null,
  reason: row.reason,
})

/** Writes a case's state with its entry in the ledger. */
export async function writeCase(
  change: Change,
  row: DocketCaseModel,
  host: string | undefined,
  state: State,
  action: Action,
  more: { reason?: string; undoesId?: number } = {},
): Promise<number> {
  const before = caseState(row)
  await row.update(
    {
      state: state.state as Case['state'],
      setAsideUntil: state.setAsideUntil === null ? null : new Date(state.setAsideUntil as string),
      reason: state.reason as string,
      ...(state.state !== 'settled' && { keptPrint: null, settledBy: null, settledAt: null }),
      version: row.version + 1,
    },
    { transaction: change.transaction },
  )
  return change.record({
    action,
    subject: { kind: 'case', id: row.id, label: `${host ?? ''}: ${row.headline}` },
    reason: (state.reason as string) || more.reason,
    before,
    after: state,
    undoesId: more.undoesId,
  })
}
