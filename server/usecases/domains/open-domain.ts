import { hostOfName } from '../../../core/dns'
import type { Domain } from '../../../core/schemas'
import { isOpenStanding } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { checkReach } from '../../names/reach'
import { runChange, type Actor } from '../ledger/change'
import { domainState, toDomainView, writeDomain } from './change-domain'
import { countLinksOf } from './domain-plan'
import { readOverview } from './domain-overview'
import { findDomain } from './find-domain'
import { Problem } from '../problem'

/**
 * Opens a domain for its links and tells how many go live. It must be proved to be the organisation's, and its name
 * must reach this gateway, asked at this moment; `anyway` passes over the second, never over the first.
 */
export async function openDomain(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  input: { anyway: boolean; reason?: string },
): Promise<{ domain: Domain; live: number }> {
  const domain = await findDomain(db, id)
  if (isOpenStanding(domain.standing)) throw new Problem(409, 'Open already', `${domain.host} is open already.`)
  const overview = await readOverview(db, names, domain, new Date())
  if (!overview.sighting.proved) {
    throw new Problem(
      409,
      'Not proved',
      `Not every name server of ${domain.host} gives the ownership record at ` +
        `${hostOfName(overview.plan.needed.proof.name)} yet, so it is not proved to be yours. Place it, then ` +
        'check again.',
    )
  }
  const reach = await checkReach(names, domain.host, new Date())
  if (!reach?.ok && !input.anyway) {
    throw new Problem(
      409,
      'Not reached',
      `${reach?.sentence ?? 'No resolver answers just now.'} Links would not work for those who are led ` +
        'there. Wait until the records have spread, or open it anyway.',
      [],
      { reach: reach ?? null },
    )
  }
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    await domain.reload({ transaction, lock: transaction.LOCK.UPDATE })
    const before = domainState(domain)
    const after = { ...before, standing: 'open' }
    await writeDomain(db, change, domain, after)
    await db.DomainWatch.update(
      { dueAt: change.now, ...(reach && { reach }) },
      { where: { domainId: id }, transaction },
    )
    await change.record({
      action: 'open',
      subject: { kind: 'domain', id, label: domain.host },
      reason: input.reason,
      before,
      after,
    })
    return { domain: toDomainView(domain), live: await countLinksOf(db, id) }
  })
}
