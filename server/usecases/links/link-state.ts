import { createHash } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import { destinationKey, showHost } from '../../../core/address'
import { LINK_FIELDS, stateOf, type LinkState } from '../../../core/rows'
import { standingAt } from '../../../core/table'
import { isOpenStanding, type Link } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'

/** What the ledger keeps of a link and its tags: all that can be put back. */
export type TaggedLinkState = LinkState & { tags: string[] }

/** What the ledger keeps of a link. */
export const linkState = (link: LinkModel, tags: readonly string[]): TaggedLinkState => ({
  ...(stateOf(LINK_FIELDS, link) as unknown as LinkState),
  tags: [...tags].sort(),
})

/** A link as the API tells it, at a moment. */
export function toLinkView(link: LinkModel, domain: DomainModel, tags: string[], now: Date): Link {
  const { domainId: _domainId, canonical: _canonical, ...state } = linkState(link, tags)
  return {
    ...(state as unknown as Link),
    id: link.id,
    domain: domain.host,
    address: `${showHost(domain.host)}/${link.slug}`,
    standing: standingAt(
      {
        standing: link.standing,
        startsAt: link.startsAt?.getTime() ?? null,
        endsAt: link.endsAt?.getTime() ?? null,
        resumesAt: link.resumesAt?.getTime() ?? null,
      },
      now.getTime(),
    ),
    waiting: !isOpenStanding(domain.standing),
    visits28: link.visits28,
    target: null,
    version: link.version,
    createdAt: link.createdAt.toISOString(),
    updatedAt: link.updatedAt.toISOString(),
  }
}

/** The tags of many links, by link id, each list in order. */
export async function readTags(
  db: Database,
  linkIds: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, string[]>> {
  const tags = new Map<number, string[]>(linkIds.map((id) => [id, []]))
  if (linkIds.length === 0) return tags
  const rows = await db.sequelize.query<{ link_id: number; name: string }>(
    'SELECT lt.link_id, t.name FROM link_tag lt JOIN tag t ON t.id = lt.tag_id WHERE lt.link_id IN ' +
      '(:linkIds) ORDER BY t.name',
    { replacements: { linkIds: [...linkIds] }, type: QueryTypes.SELECT, transaction },
  )
  for (const row of rows) tags.get(Number(row.link_id))!.push(row.name)
  return tags
}

/** Gives a link exactly these tags; makes the tags that are new. */
export async function writeTags(
  db: Database,
  linkId: number,
  names: readonly string[],
  transaction: Transaction,
): Promise<void> {
  await db.LinkTag.destroy({ where: { linkId }, transaction })
  for (const name of new Set(names)) {
    const [tag] = await db.Tag.findOrCreate({ where: { name }, transaction })
    await db.LinkTag.findOrCreate({ where: { linkId, tagId: tag.id }, transaction })
  }
}

/** The indexed key by which twins are found: SHA-256 of the normalised destination. */
export const destinationHash = (destination: string) =>
  createHash('sha256').update(destinationKey(destination)).digest('hex')

/** What search looks through, in lower case; with the addresses that forward to the link. */
export function searchText(
  host: string,
  state: Pick<TaggedLinkState, 'slug' | 'title' | 'destination' | 'owner' | 'note' | 'tags'>,
  forwarding: readonly string[] = [],
): string {
  return [
    `${showHost(host)}/${state.slug}`,
    ...forwarding,
    state.title,
    state.destination,
    state.owner,
    state.tags.join(' '),
    state.note,
  ]
    .join('\n')
    .toLowerCase()
}
