import { Op } from 'sequelize'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Database } from '../../database/open'
import type { Change } from '../ledger/change'

const MAX_NAMED = 200

/** The other cases of the same cause and state, by what they harm; under a change their rows are locked. */
export async function sameCause(db: Database, row: DocketCaseModel, change?: Change): Promise<DocketCaseModel[]> {
  if (row.cause == null) return []
  return db.DocketCase.findAll({
    where: { cause: row.cause, state: row.state!, id: { [Op.ne]: row.id } },
    order: change ? [['id', 'ASC']] : [['impact', 'DESC']],
    ...(change ? { transaction: change.transaction, lock: change.transaction.LOCK.UPDATE } : { limit: MAX_NAMED }),
  })
}
