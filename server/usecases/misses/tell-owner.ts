import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import type { Database } from '../../database/open'
import { findDomain } from '../domains/find-domain'
import { runChange, type Actor } from '../ledger/change'
import { fieldProblem } from '../problem'
import { findMiss } from './find-miss'

/** Notes that the owner of a page that carries a wrong address was told. */
export function tellOwner(db: Database, actor: Actor, id: number, page: string): Promise<void> {
  return runChange(db, actor, async (change) => {
    const miss = await findMiss(db, id, change)
    const domain = await findDomain(db, miss.domainId, change.transaction)
    const [, told] = await db.sequelize.query(
      'UPDATE miss_referrer SET told_at = :now, told_by = :by WHERE miss_id = :id AND referrer = :page',
      {
        replacements: { now: change.now, by: actor.name.slice(0, 160), id, page },
        type: QueryTypes.UPDATE,
        transaction: change.transaction,
      },
    )
    if (told === 0) throw fieldProblem('page', 'page: nobody came from there; give one of the referring pages.', 404)
    await change.record({
      action: 'tell',
      subject: { kind: 'miss', id, label: `${showHost(domain.host)}/${miss.path}: ${page}` },
      before: null,
      after: { page },
    })
  })
}
