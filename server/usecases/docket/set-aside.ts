import type { Case, CasePatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { runChange, type Actor } from '../ledger/change'
import { versionConflict, fieldProblem, Problem } from '../problem'
import { writeCase } from './case-state'
import { findCase, toCaseView } from './case-view'

/** A case cannot be hidden for longer than this many days; it would be forgotten. */
const MAX_DAYS_ASIDE = 366

/** Sets a case aside until a moment, with a reason, or takes it back up. */
export function patchCase(db: Database, actor: Actor, id: number, version: number, patch: CasePatch): Promise<Case> {
  return runChange(db, actor, async (change) => {
    const { row, host } = await findCase(db, id, change)
    if (row.version !== version) throw versionConflict('this case', toCaseView(row, host), patch)
    if (row.state === 'settled')
      throw new Problem(409, 'Settled', `This case was settled ${settledBy(row)}; it cannot be set aside.`)
    const until = patch.state === 'set-aside' ? new Date(patch.until) : null
    if (until && until <= change.now) throw fieldProblem('until', 'Enter a date in the future.')
    if (until && until.getTime() > change.now.getTime() + MAX_DAYS_ASIDE * 86_400_000)
      throw fieldProblem('until', 'A case can be set aside for a year at most.')
    if (patch.state === 'set-aside' && (patch.reason ?? '') === '')
      throw fieldProblem('reason', 'Enter a reason, for example “New page comes on Monday”.')
    await writeCase(
      db,
      change,
      row,
      host,
      { state: patch.state, setAsideUntil: until?.toISOString() ?? null, reason: patch.reason ?? '' },
      patch.state === 'set-aside' ? 'set-aside' : 'take-up',
    )
    return toCaseView(row, host)
  })
}

const settledBy = (row: { settledBy: string | null }) =>
  row.settledBy === null || row.settledBy === 'itself' ? 'automatically' : `by ${row.settledBy}`
