import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { notHere } from '../problem'

/** A domain by its number; refused with 404 where there is none. Within a change it is locked until that is over. */
export async function findDomain(db: Database, id: number, transaction?: Transaction): Promise<DomainModel> {
  const domain = await db.Domain.findByPk(id, transaction && { transaction, lock: transaction.LOCK.UPDATE })
  if (!domain) throw notHere('domain')
  return domain
}
