import type { Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import { notHere } from '../problem'

/** A link with its domain; 404 where there is none. With a transaction the link's row is locked. */
export async function findLink(
  db: Database,
  id: number,
  transaction?: Transaction,
): Promise<{ link: LinkModel; domain: DomainModel }> {
  const link = await db.Link.findByPk(id, transaction && { transaction, lock: transaction.LOCK.UPDATE })
  if (!link) throw notHere('link')
  const domain = await db.Domain.findByPk(link.domainId, { transaction })
  return { link, domain: domain! }
}
