import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { fieldProblem, notFound } from '../problem'

/** A domain by its number; refused with 404 where there is none. Within a change it is locked until that is over. */
export async function findDomain(db: Database, id: number, transaction?: Transaction): Promise<DomainModel> {
  const domain = await db.Domain.findByPk(id, transaction && { transaction, lock: transaction.LOCK.UPDATE })
  if (!domain) throw notFound('domain')
  return domain
}

/** A domain by its name, as a field gives it; refused with a sentence at that field where there is none. */
export async function findDomainNamed(db: Database, host: string, transaction?: Transaction): Promise<DomainModel> {
  const domain = await db.Domain.findOne({ where: { host: host.toLowerCase() }, transaction })
  if (!domain) throw fieldProblem('domain', `There is no domain “${host}”; choose one of the organisation’s own.`)
  return domain
}
