import type { Action } from '../../../core/ledger'
import type { Case } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Database } from '../../database/open'
import type { State } from '../../database/models/ledger-entry'
import type { Change } from '../ledger/change'
import { sameCause } from './same-cause'

/** What the ledger keeps of a case: what people decide about it. */
export const caseState = (row: DocketCaseModel): State => ({
  state: row.state,
  setAsideUntil: row.setAsideUntil?.toISOString() ?? null,
  reason: row.reason,
})

/**
 * Writes a case's state with its entry in the ledger. Cases of the same cause that stand as it did go with it: they are
 * shown as one, and are decided about as one.
 */
export async function writeCase(
  db: Database,
  change: Change,
  row: DocketCaseModel,
  host: string | undefined,
  state: State,
  action: Action,
  more: { reason?: string; undoesId?: number } = {},
): Promise<number> {
  const before = caseState(row)
  const others = (await sameCause(db, row, change)).filter((other) => isSame(caseState(other), before))
  for (const one of [row, ...others])
    await one.update(
      {
        state: state.state as Case['state'],
        setAsideUntil: state.setAsideUntil === null ? null : new Date(state.setAsideUntil as string),
        reason: state.reason as string,
        ...(state.state !== 'settled' && { keptPrint: null, settledBy: null, settledAt: null }),
        version: one.version + 1,
      },
      { transaction: change.transaction },
    )
  const along = others.length === 0 ? '' : ` and ${others.length} more of the same cause`
  return change.record({
    action,
    subject: { kind: 'case', id: row.id, label: `${host ?? ''}: ${row.headline}${along}` },
    reason: (state.reason as string) || more.reason,
    before,
    after: state,
    undoesId: more.undoesId,
  })
}

const isSame = (one: State, other: State) => one.state === other.state && one.setAsideUntil === other.setAsideUntil
