import type { Transaction } from 'sequelize'
import type { Survey } from '../../../core/conflicts'
import { isRemark } from '../../../core/docket'
import type { Database } from '../../database/open'
import { keepAsDecided } from '../../docket/keeper'
import { conflictsOf } from '../conflicts/conflict-gate'
import { readChanged, refreshStaleOnWay } from '../conflicts/read-survey'
import type { Actor } from '../ledger/change'
import { yielder } from '../yield-to-event-loop'

/** So many are looked at without a pause: a tenth of a second. */
const AT_ONCE = 300
const byCanonical = (one: { canonical: string | null }, other: { canonical: string | null }) =>
  (one.canonical ?? '') < (other.canonical ?? '') ? -1 : 1

/**
 * Notes what links and rules that were just made are in conflict with as decided: somebody brought them in though they
 * clash. Where there are very many they are looked at in parts, like beside like; what lies in two parts comes up once
 * more.
 */
export async function acceptClashes(
  db: Database,
  survey: Survey,
  { transaction, actor, reason }: { transaction: Transaction; actor: Actor; reason: string },
  made: { links: number[]; rules: number[] },
): Promise<void> {
  if (made.links.length + made.rules.length === 0) return
  const yieldNow = yielder('considerate')
  const written = new Set(made.links)
  const { links = [], rules } = await readChanged(db, { ...made, domains: [] }, transaction)
  const alike = [...links].sort(byCanonical)
  for (let from = 0; from === 0 || from < alike.length; from += AT_ONCE) {
    const change = { links: alike.slice(from, from + AT_ONCE), rules: from === 0 ? rules : [] }
    await refreshStaleOnWay(db, survey, change.links, written, transaction)
    const found = conflictsOf(survey, change).map(({ finding }) => finding)
    await keepAsDecided(
      db,
      found.filter((finding) => !isRemark(finding)),
      { by: actor.name, reason, now: new Date(), transaction },
    )
    await yieldNow()
  }
}
