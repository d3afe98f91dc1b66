import { UniqueConstraintError } from 'sequelize'
import { canonicalSlug } from '../../../core/address'
import { LINK_FIELDS, modelValues } from '../../../core/rows'
import type { Link, LinkCreate } from '../../../core/schemas'
import type { NewLink } from '../../database/models/link'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { runChange, type Actor, type Change } from '../ledger/change'
import { acceptConflicts, refuseConflicts } from '../conflicts/conflict-gate'
import { rankOf } from './change-link'
import { putAlias } from './aliases'
import { drawSlug } from './draw-slug'
import { checkDates, checkDestination, checkForward } from './link-rules'
import { destinationHash, linkState, searchText, toLinkView, writeTags } from './link-state'
import { fieldProblem } from '../problem'
import { canonicalFor, slugTaken } from './rename-link'

const RANDOM_DRAWS = 8

/** Makes a link. A slug that is taken is refused with 409, naming the link that has it; without a slug one is drawn. */
export async function createLink(db: Database, actor: Actor, input: LinkCreate): Promise<Link> {
  const domain = await findDomainNamed(db, input.domain)
  checkDates(input)
  checkDestination('destination', input.destination, domain)
  if (input.endedDestination) checkDestination('endedDestination', input.endedDestination, domain)

  for (let draw = 1; ; draw++) {
    const slug = input.slug ?? (await drawSlug(db, domain))
    if (slug === undefined)
      throw fieldProblem(
        'slug',
        `The slug rules of ${domain.host} leave no random slug free; give one, or have the rules changed.`,
      )
    try {
      return await runChange(db, actor, (change) => insertLink(db, change, domain, slug, input), { surveyed: true })
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error
      if (input.slug !== undefined || draw === RANDOM_DRAWS)
        throw slugTaken(
          domain,
          slug,
          await db.Link.findOne({ where: { domainId: domain.id, canonical: canonicalSlug(slug, domain)! } }),
        )
    }
  }
}

/** Makes a link within a change. */
export async function insertLink(
  db: Database,
  change: Change,
  domain: InstanceType<Database['Domain']>,
  slug: string,
  input: LinkCreate,
): Promise<Link> {
  // How slugs are read may have changed since the domain was looked up; under the change's lock it cannot.
  await domain.reload({ transaction: change.transaction })
  const canonical = canonicalFor(slug, domain)
  await checkForward(db, { domainId: domain.id, canonical }, input.destination, 'destination', change.transaction)
  const { domain: _host, slug: _slug, status: _status, tags: _tags, reason: _reason, aliases, ...fields } = input
  const hash = destinationHash(input.destination)
  const link = await db.Link.create(
    {
      domainId: domain.id,
      slug,
      canonical,
      ...(modelValues(LINK_FIELDS, fields) as Pick<NewLink, 'destination'>),
      // Who draws a slug may rely on its being hard to guess.
      unlisted: input.unlisted ?? input.slug === undefined,
      destinationHash: hash,
      targetRank: await rankOf(db, hash, change.transaction),
      status: input.status ?? domain.defaultStatus,
      searchText: searchText(domain.host, { ...input, slug }),
      createdAt: change.now,
      updatedAt: change.now,
    },
    { transaction: change.transaction },
  )
  await writeTags(db, link.id, input.tags, change.transaction)
  const found = await refuseConflicts(db, change, { links: [link.id] }, input.reason)
  if (found.some(({ conflict }) => conflict.kind === 'rule-breaker'))
    await link.update({ exception: true }, { transaction: change.transaction })
  await change.record({
    action: 'create',
    subject: { kind: 'link', id: link.id, label: `${domain.host}/${slug}` },
    reason: input.reason,
    before: null,
    after: linkState(link, input.tags),
  })
  await acceptConflicts(db, change, found, input.reason)
  for (const alias of aliases) await putAlias(db, change, link, domain, alias, input.reason)
  return toLinkView(link, domain, [...input.tags].sort(), change.now)
}
