import { QueryTypes, type Transaction } from 'sequelize'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import { notFound } from '../problem'

/**
 * A link with its domain; 404 where there is none. With a transaction the link's row is locked, or refused at once
 * where a change to many links holds it: whoever has the lock of all changes must not wait.
 */
export async function findLink(
  db: Database,
  id: number,
  transaction?: Transaction,
): Promise<{ link: LinkModel; domain: DomainModel }> {
  if (transaction)
    await db.sequelize.query('SELECT id FROM link WHERE id = ? FOR UPDATE NOWAIT', {
      replacements: [id],
      type: QueryTypes.SELECT,
      transaction,
    })
  const link = await db.Link.findByPk(id, transaction && { transaction, lock: transaction.LOCK.UPDATE })
  if (!link) throw notFound('link')
  const domain = await db.Domain.findByPk(link.domainId, { transaction })
  return { link, domain: domain! }
}
