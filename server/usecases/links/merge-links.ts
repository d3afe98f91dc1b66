import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'
import type { Change } from '../ledger/change'
import { writeLink } from './change-link'
import { linkState, readTags } from './link-state'
import { Problem } from '../problem'

/**
 * Makes one link part of another: its address goes on, and answers as the other link does. What forwarded to it
 * forwards to the other one too. Its own destination and notes stay in its row, so that undoing gives it back as it
 * was.
 */
export async function mergeLink(
  db: Database,
  change: Change,
  link: LinkModel,
  into: LinkModel,
  more: { canonical?: string | null; was?: string | null; reason?: string } = {},
): Promise<void> {
  const { transaction } = change
  if (link.id === into.id) throw new Problem(409, 'The same link', 'A link cannot be merged into itself.')
  if (into.forwardsTo !== null && into.forwardsTo !== undefined)
    throw new Problem(409, 'Not a main link', `${into.slug} forwards to another link itself; choose that one.`)
  const domains = new Map((await db.Domain.findAll({ transaction })).map((domain) => [domain.id, domain]))
  const tagsOf = async (id: number) => (await readTags(db, [id], transaction)).get(id)!
  for (const row of [
    link,
    ...(await db.Link.findAll({ where: { forwardsTo: link.id }, transaction, lock: transaction.LOCK.UPDATE })),
  ]) {
    const domain = domains.get(row.domainId)!
    const before = {
      ...linkState(row, await tagsOf(row.id)),
      ...(row === link && more.was !== undefined && { canonical: more.was }),
    }
    const canonical = row === link && more.canonical !== undefined ? more.canonical : before.canonical
    await writeLink(db, change, row, domain, { ...before, canonical, forwardsTo: into.id })
    await change.record({
      action: 'merge',
      subject: { kind: 'link', id: row.id, label: `${domain.host}/${row.slug}` },
      reason: more.reason,
      before,
      after: linkState(row, before.tags),
    })
  }
  // Search finds the link by its new addresses too.
  const domain = domains.get(into.domainId)!
  await writeLink(db, change, into, domain, linkState(into, await tagsOf(into.id)))
}
