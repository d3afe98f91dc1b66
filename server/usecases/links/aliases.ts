import { UniqueConstraintError } from 'sequelize'
import { canonicalSlug, judgeSlug, SLUG_REFUSALS } from '../../../core/address'
import type { AliasCreate, Link } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import { acceptConflicts, refuseConflicts } from '../conflicts/conflict-gate'
import { findDomainNamed } from '../domains/find-domain'
import { runChange, type Actor, type Change } from '../ledger/change'
import { fieldProblem, notFound, Problem } from '../problem'
import { writeLink } from './change-link'
import { findLink } from './find-link'
import { checkForward } from './link-rules'
import { destinationHash, linkState, readTags, searchText } from './link-state'
import { readLink } from './read-link'
import { canonicalFor, dropForwarding, slugTaken } from './rename-link'

/** So many slugs may lead to one link. */
const MAX_ALIASES = 200

/**
 * Gives a link another slug, on its own or another domain, within a change: a row of its own, so that its visits are
 * told apart, which answers as the link does. Refuses what no link could have; gives the new row and its entry in the
 * ledger.
 */
export async function putAlias(
  db: Database,
  change: Change,
  link: LinkModel,
  domain: DomainModel,
  slug: string,
  reason: string | undefined,
  undoesId?: number,
): Promise<{ row: LinkModel; entry: number }> {
  const { transaction } = change
  if ((link.forwardsTo ?? null) !== null)
    throw new Problem(409, 'Not a main link', `${link.slug} leads to another link itself; choose that one.`)
  const refusal = judgeSlug(slug)
  if (refusal) throw fieldProblem('slug', SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
  const canonical = canonicalFor(slug, domain)
  if ((await db.Link.count({ where: { forwardsTo: link.id }, transaction })) >= MAX_ALIASES)
    throw new Problem(409, 'Too many slugs', `A link can have ${MAX_ALIASES} further slugs at most.`)
  const holder = await db.Link.findOne({ where: { domainId: domain.id, canonical }, transaction })
  if (holder) throw slugTaken(domain, slug, holder)
  await checkForward(db, { domainId: domain.id, canonical }, link.destination, 'slug', transaction)
  const row = await db.Link.create(
    {
      domainId: domain.id,
      slug,
      canonical,
      forwardsTo: link.id,
      destination: link.destination,
      destinationHash: destinationHash(link.destination),
      status: link.status,
      owner: link.owner,
      searchText: searchText(domain.host, { slug, title: '', destination: '', owner: '', note: '', tags: [] }),
      createdAt: change.now,
      updatedAt: change.now,
    },
    { transaction },
  )
  const found = await refuseConflicts(db, change, { links: [row.id] }, reason)
  if (found.some(({ conflict }) => conflict.kind === 'rule-breaker'))
    await row.update({ exception: true }, { transaction })
  const entry = await change.record({
    action: undoesId === undefined ? 'alias' : 'undo',
    undoesId,
    subject: { kind: 'link', id: row.id, label: `${domain.host}/${slug}` },
    links: [link.id],
    reason,
    before: null,
    after: linkState(row, []),
  })
  await acceptConflicts(db, change, found, reason)
  await findByAliases(db, change, link)
  return { row, entry }
}

/** Search finds a link by its slugs, and who edits it learns that it changed. */
async function findByAliases(db: Database, change: Change, link: LinkModel): Promise<void> {
  const domain = (await db.Domain.findByPk(link.domainId, { transaction: change.transaction }))!
  const tags = (await readTags(db, [link.id], change.transaction)).get(link.id)!
  await writeLink(db, change, link, domain, linkState(link, tags))
}

/** Takes a slug away from a link, within a change; its visits stay the link's. */
export async function dropAlias(
  db: Database,
  change: Change,
  row: LinkModel,
  reason?: string,
  undoesId?: number,
): Promise<number> {
  const domain = (await db.Domain.findByPk(row.domainId, { transaction: change.transaction }))!
  const { link } = await findLink(db, row.forwardsTo!, change.transaction)
  const entry = await dropForwarding(db, change, row, domain, {
    action: undoesId === undefined ? 'unalias' : 'undo',
    reason,
    undoesId,
  })
  await findByAliases(db, change, link)
  return entry
}

/** Gives a link another slug. A slug that is taken is refused with 409, naming the link that has it. */
export async function addAlias(db: Database, actor: Actor, id: number, input: AliasCreate): Promise<Link> {
  let domain: DomainModel | undefined
  try {
    await runChange(
      db,
      actor,
      async (change) => {
        const found = await findLink(db, id, change.transaction)
        domain = input.domain === undefined ? found.domain : await findDomainNamed(db, input.domain, change.transaction)
        await putAlias(db, change, found.link, domain, input.slug, input.reason)
      },
      { surveyed: true },
    )
  } catch (error) {
    if (!(error instanceof UniqueConstraintError) || !domain) throw error
    const canonical = canonicalSlug(input.slug, domain)!
    throw slugTaken(domain, input.slug, await db.Link.findOne({ where: { domainId: domain.id, canonical } }))
  }
  return readLink(db, id)
}

/** Takes a slug away from a link; asking for it finds nothing from then on. */
export async function removeAlias(
  db: Database,
  actor: Actor,
  id: number,
  alias: number,
  reason: string,
): Promise<Link> {
  await runChange(
    db,
    actor,
    async (change) => {
      const { link } = await findLink(db, alias, change.transaction).catch(() => {
        throw notFound('slug')
      })
      if (link.forwardsTo !== id) throw notFound('slug')
      await dropAlias(db, change, link, reason)
    },
    { surveyed: true },
  )
  return readLink(db, id)
}
