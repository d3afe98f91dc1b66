import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import type { Change } from '../ledger/change'
import { notFound } from '../problem'

/** A miss by its number; 404 where there is none. Under a change its row is locked. */
export async function findMiss(db: Database, id: number, change?: Change): Promise<MissModel> {
  const miss = await db.Miss.findByPk(
    id,
    change && { transaction: change.transaction, lock: change.transaction.LOCK.UPDATE },
  )
  if (!miss) throw notFound('miss')
  return miss
}
