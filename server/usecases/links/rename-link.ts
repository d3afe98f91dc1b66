import type { Transaction } from 'sequelize'
import { canonicalSlug, showHost } from '../../../core/address'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import type { Change } from '../ledger/change'
import { destinationHash, linkState, searchText, type TaggedLinkState } from './link-state'
import { fieldProblem, Problem } from '../problem'

/** The canonical form of a slug on a domain; refuses one that no request could ever reach. */
export function canonicalFor(slug: string, domain: { capitalsMatter: boolean; trailingSlashMatters: boolean }): string {
  const canonical = canonicalSlug(slug, domain)
  if (!canonical) throw fieldProblem('slug', 'No request could ever reach this slug; choose another.')
  return canonical
}

/** Addresses that forward to a link, as people read them. */
export async function forwardingAddresses(db: Database, id: number, transaction: Transaction): Promise<string[]> {
  const rows = await db.Link.findAll({ attributes: ['slug', 'domainId'], where: { forwardsTo: id }, transaction })
  if (rows.length === 0) return []
  const hosts = new Map(
    (await db.Domain.findAll({ attributes: ['id', 'host'], transaction })).map((domain) => [
      domain.id,
      showHost(domain.host),
    ]),
  )
  return rows.map((row) => `${hosts.get(row.domainId)}/${row.slug}`)
}

/**
 * Makes room for a link's new address, as `after` has it, and leaves the old one forwarding where `forward` says so. A
 * slug that forwards to this very link gives way; any other refuses the move with 409. The link's own row is the
 * caller's.
 */
export async function moveAddress(
  db: Database,
  change: Change,
  link: LinkModel,
  domain: DomainModel,
  after: TaggedLinkState,
  forward: boolean,
): Promise<void> {
  const { transaction } = change
  const before = { slug: link.slug, canonical: link.canonical }
  if (after.canonical === before.canonical) return
  const holder =
    after.canonical === null
      ? null
      : await db.Link.findOne({
          where: { domainId: link.domainId, canonical: after.canonical },
          transaction,
          lock: transaction.LOCK.UPDATE,
        })
  if (holder && holder.id !== link.id) {
    if (holder.forwardsTo !== link.id) throw slugTaken(domain, after.slug, holder)
    await dropForwarding(db, change, holder, domain)
  }
  await link.update({ slug: after.slug, canonical: after.canonical }, { transaction })
  if (forward && before.canonical !== null)
    await leaveForwarding(db, change, link, domain, before as { slug: string; canonical: string })
}

/** Makes a slug that forwards to a link, with its entry in the ledger. */
export async function leaveForwarding(
  db: Database,
  change: Change,
  link: LinkModel,
  domain: DomainModel,
  old: { slug: string; canonical: string | null },
): Promise<void> {
  const row = await db.Link.create(
    {
      domainId: link.domainId,
      slug: old.slug,
      canonical: old.canonical,
      forwardsTo: link.id,
      destination: link.destination,
      destinationHash: destinationHash(link.destination),
      status: link.status,
      owner: link.owner,
      searchText: searchText(domain.host, {
        slug: old.slug,
        title: '',
        destination: '',
        owner: '',
        note: '',
        tags: [],
      }),
      createdAt: change.now,
      updatedAt: change.now,
    },
    { transaction: change.transaction },
  )
  await change.record({
    action: 'forward',
    subject: { kind: 'link', id: row.id, label: `${domain.host}/${old.slug}` },
    before: null,
    after: linkState(row, []),
  })
}

/** Gives visits and placements of slugs that forward to the links they forward to, before they are taken away. */
export async function inherit(db: Database, ids: readonly number[], transaction: Transaction): Promise<void> {
  const run = (sql: string) => db.sequelize.query(sql, { replacements: { ids }, transaction })
  await run(
    'INSERT INTO visit_day (link_id, day, visits) SELECT l.forwards_to, v.day, v.visits FROM visit_day v ' +
      'JOIN link l ON l.id = v.link_id WHERE v.link_id IN (:ids) ' +
      'ON DUPLICATE KEY UPDATE visits = visit_day.visits + VALUES(visits)',
  )
  await run('DELETE FROM visit_day WHERE link_id IN (:ids)')
  // Raw visits are not written anew: they count for the heir from here on.
  await run('UPDATE link_heir h JOIN link l ON l.id = h.heir_id SET h.heir_id = l.forwards_to WHERE l.id IN (:ids)')
  await run('REPLACE INTO link_heir (link_id, heir_id) SELECT id, forwards_to FROM link WHERE id IN (:ids)')
  await run('UPDATE placement p JOIN link l ON l.id = p.link_id SET p.link_id = l.forwards_to WHERE l.id IN (:ids)')
}

/** Takes a forwarding slug away whose address its own link takes over; its visits become the link's. */
export async function dropForwarding(
  db: Database,
  change: Change,
  row: LinkModel,
  domain: DomainModel,
  about: { action: 'forward-over' | 'unalias' | 'undo'; reason?: string; undoesId?: number } = {
    action: 'forward-over',
  },
): Promise<number> {
  const { transaction } = change
  await inherit(db, [row.id], transaction)
  const entry = await change.record({
    ...about,
    subject: { kind: 'link', id: row.id, label: `${domain.host}/${row.slug}` },
    links: about.action === 'forward-over' ? undefined : [row.forwardsTo!],
    before: linkState(row, []),
    after: null,
  })
  await row.destroy({ transaction })
  return entry
}

/** 409 with whom a slug belongs to. */
export function slugTaken(domain: { host: string }, slug: string, holder: LinkModel | null): Problem {
  const detail =
    `“${slug}” is taken on ${domain.host}${holder?.title ? ` by “${holder.title}”` : ''}; choose another ` + 'slug.'
  return new Problem(409, 'The slug is taken', detail, [{ pointer: '/slug', detail }], {
    link: holder ? { id: holder.id, address: `${domain.host}/${holder.slug}`, title: holder.title } : null,
  })
}
