import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'
import type { Change } from '../ledger/change'
import { writeLink } from './change-link'
import { linkState, readTags } from './link-state'
import { Problem } from '../problem'

/**
 * Makes one link part of another: its address goes on, and answers as the other link does. What forwarded to it forwards
 * to the other one too. Its own destination and notes stay in its row, so that undoing gives it back as it was.
 */
export async function mergeLink(
  db: Database,
  under: Change,
  link: LinkModel,
  into: LinkModel,
  more: { canonical?: string | null; was?: string | null; reason?: string } = {},
): Promise<void> {
  const { transaction } = under
  if (Number(link.id) === Number(into.id))
    throw new Problem(409, 'The same link', 'A link cannot become part of itself.')
  if (into.forwardsTo !== null && into.forwardsTo !== undefined)
    throw new Problem(409, 'Not a link of its own', `${into.slug} forwards to another link itself; choose that one.`)
  const domains = new Map((await db.Domain.findAll({ transaction })).map((domain) => [Number(domain.id), domain]))
  const tagsOf = async (id: number) => (await readTags(db, [id], transaction)).get(id)!
  for (const row of [
    link,
    ...(await db.Link.findAll({ where: { forwardsTo: Number(link.id) }, transaction, lock: transaction.LOCK.UPDATE })),
  ]) {
    const domain = domains.get(Number(row.domainId))!
    const before = {
      ...linkState(row, await tagsOf(Number(row.id))),
      ...(row === link && more.was !== undefined && { canonical: more.was }),
    }
    const canonical = row === link && more.canonical !== undefined ? more.canonical : before.canonical
    await writeLink(db, under, row, domain, { ...before, canonical, forwardsTo: Number(into.id) })
    await under.record({
      action: 'merge',
      subject: { kind: 'link', id: Number(row.id), label: `${domain.host}/${row.slug}` },
      reason: more.reason,
      before,
      after: linkState(row, before.tags),
    })
  }
  // Search finds the link by its new addresses too.
  const domain = domains.get(Number(into.domainId))!
  await writeLink(db, under, into, domain, linkState(into, await tagsOf(Number(into.id))))
}
