import type { DocketCaseModel } from '../../database/models/docket-case'
import type { DomainModel } from '../../database/models/domain'
import type { Database } from '../../database/open'
import { runChange, type Actor, type Change } from '../../usecases/ledger/change'
import { settle } from '../keeper'

export interface Context {
  db: Database
  row: DocketCaseModel
  domain: DomainModel
}

/** What a remedy would have done, in a sentence. */
export const would = (visitors: number) =>
  'It would have served ' +
  `${visitors === 1 ? 'one visitor' : `${visitors.toLocaleString('en')} visitors`} in the last 28 days.`

/** Runs a remedy that is more than a decision about one miss, and settles its case in the name of who applied it. */
export function inOneChange(
  { db, row }: Context,
  actor: Actor,
  work: (change: Change) => Promise<string>,
): Promise<string> {
  return runChange(
    db,
    actor,
    async (change) => {
      const sentence = await work(change)
      await row.reload({ transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
      if (row.state !== 'settled') await settle(row, change.actor.name, change.now, change.transaction)
      return sentence
    },
    { surveyed: true },
  )
}
