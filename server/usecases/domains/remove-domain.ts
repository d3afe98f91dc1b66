import { QueryTypes } from 'sequelize'
import { DOMAIN_FIELDS, modelValues } from '../../../core/rows'
import { isOpenStanding } from '../../../core/schemas'
import { counted } from '../../../core/text/counted'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { State } from '../../database/models/ledger-entry'
import { runChange, type Actor, type Change } from '../ledger/change'
import { Problem, versionConflict } from '../problem'
import { domainState, refuseHost, toDomainView } from './change-domain'
import { findDomain } from './find-domain'

/**
 * Removes a domain that was added by mistake: one that was never open and has no links and no rules, so that nobody can
 * have been given an address on it. What was read of its zone and records goes with it.
 */
export function removeDomain(db: Database, actor: Actor, id: number, version: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const domain = await findDomain(db, id, change.transaction)
    if (domain.version !== version) throw versionConflict(domain.host, toDomainView(domain), null)
    await refuseUsed(db, change, domain)
    await db.sequelize.query('DELETE FROM docket_case WHERE domain_id = ?', {
      replacements: [id],
      transaction: change.transaction,
    })
    const before = { ...domainState(domain), host: domain.host }
    await domain.destroy({ transaction: change.transaction })
    await change.record({
      action: 'remove',
      subject: { kind: 'domain', id, label: domain.host },
      before,
      after: null,
    })
  })
}

/** Refuses a domain somebody may have an address of. */
async function refuseUsed(db: Database, { transaction }: Change, { id, host, standing }: DomainModel): Promise<void> {
  const opened = await db.LedgerEntry.count({
    where: { subjectKind: 'domain', subjectId: id, action: 'open' },
    transaction,
  })
  if (isOpenStanding(standing) || opened > 0)
    throw new Problem(
      409,
      'Was open',
      `${host} has been open, so its addresses may be in print. Only a domain that was never open can be removed.`,
    )
  const [row] = await db.sequelize.query<{ count: number }>('SELECT COUNT(*) AS count FROM link WHERE domain_id = ?', {
    replacements: [id],
    type: QueryTypes.SELECT,
    transaction,
  })
  const links = Number(row!.count)
  if (links > 0)
    throw new Problem(
      409,
      'Has links',
      `${host} has ${counted(links, 'link')}. Move ${links === 1 ? 'it' : 'them'} to another domain first.`,
    )
  const rules = await db.Rule.count({ where: { domainId: id }, transaction })
  if (rules > 0) throw new Problem(409, 'Has rules', `${host} has ${counted(rules, 'rule')}. Remove them first.`)
}

/**
 * Gives a removed domain back under its old number. Its ownership is to be proved anew, as nothing is known of its
 * records any more.
 */
export async function restoreDomain(db: Database, change: Change, id: number, state: State): Promise<DomainModel> {
  const { transaction, now } = change
  const { host } = state
  if (typeof host !== 'string')
    throw new Problem(409, 'Cannot be undone', 'The entry does not tell which domain it was.')
  await refuseHost(db, host, true, transaction)
  const domain = await db.Domain.create(
    {
      ...modelValues(DOMAIN_FIELDS, state),
      id,
      host,
      standing: 'not-proved',
      createdAt: now,
      updatedAt: now,
    } as never,
    { transaction },
  )
  await domain.reload({ transaction })
  await db.DomainWatch.create({ domainId: id, dueAt: now }, { transaction })
  return domain
}
