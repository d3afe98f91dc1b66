import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { MissModel } from '../../database/models/miss'
import type { Change } from '../ledger/change'
import { destinationHash, linkState, searchText } from '../links/link-state'
import { canonicalFor, slugTaken } from '../links/rename-link'

/**
 * Marks an address nobody ever had as gone: a retired link stands there, so that visitors are told (410) and nobody
 * takes the slug without knowing. Gives its id.
 */
export async function markGone(
  db: Database,
  change: Change,
  domain: DomainModel,
  miss: MissModel,
  reason: string,
): Promise<number> {
  const { transaction } = change
  const canonical = canonicalFor(miss.path, domain)
  const holder = await db.Link.findOne({ where: { domainId: domain.id, canonical }, transaction })
  if (holder) throw slugTaken(domain, miss.path, holder)
  // A link has a destination; this one leads nobody there.
  const destination = miss.ranking?.candidates[0]?.destination ?? `https://${domain.host}/`
  const fields = { title: 'Gone, never was a link', owner: '', note: reason, tags: [], destination, slug: miss.path }
  const row = await db.Link.create(
    {
      domainId: domain.id,
      slug: miss.path,
      canonical,
      destination,
      destinationHash: destinationHash(destination),
      status: domain.defaultStatus,
      standing: 'retired',
      title: fields.title,
      note: fields.note,
      searchText: searchText(domain.host, fields),
      createdAt: change.now,
      updatedAt: change.now,
    },
    { transaction },
  )
  await change.record({
    action: 'mark-gone',
    subject: { kind: 'link', id: row.id, label: `${domain.host}/${miss.path}` },
    reason,
    before: null,
    after: linkState(row, []),
  })
  return row.id
}
