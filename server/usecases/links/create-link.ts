import { UniqueConstraintError } from 'sequelize'
import { canonicalSlug } from '../../../core/address'
import { LINK_FIELDS, modelValues } from '../../../core/rows'
import type { Link, LinkCreate } from '../../../core/schemas'
import type { NewLink } from '../../database/models/link'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { change, type Actor, type Change } from '../ledger/change'
import { acceptConflicts, refuseConflicts } from '../conflicts/conflict-gate'
import { drawSlug } from './draw-slug'
import { checkDates, checkDestination, checkForward } from './link-rules'
import { destinationHash, linkState, searchText, tellLink, writeTags } from './link-state'
import { fieldProblem } from '../problem'
import { canonicalFor, slugTaken } from './rename-link'

const RANDOM_DRAWS = 8

/** Makes a link. A slug that is taken is refused with 409, naming the link that has it; without a slug one is drawn. */
export async function createLink(db: Database, actor: Actor, given: LinkCreate): Promise<Link> {
  const domain = await findDomainNamed(db, given.domain)
  checkDates(given)
  checkDestination('destination', given.destination, domain)
  if (given.endedDestination) checkDestination('endedDestination', given.endedDestination, domain)

  for (let draw = 1; ; draw++) {
    const slug = given.slug ?? (await drawSlug(db, domain))
    if (slug === undefined)
      throw fieldProblem(
        'slug',
        `The slug rules of ${domain.host} leave no random slug free; give one, or have the rules changed.`,
      )
    try {
      return await change(db, actor, (under) => insert(db, under, domain, slug, given), { surveyed: true })
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error
      if (given.slug !== undefined || draw === RANDOM_DRAWS)
        throw slugTaken(
          domain,
          slug,
          await db.Link.findOne({ where: { domainId: domain.id, canonical: canonicalSlug(slug, domain)! } }),
        )
    }
  }
}

async function insert(
  db: Database,
  under: Change,
  domain: InstanceType<Database['Domain']>,
  slug: string,
  given: LinkCreate,
): Promise<Link> {
  // How slugs are read may have changed since the domain was looked up; under the change's lock it cannot.
  await domain.reload({ transaction: under.transaction })
  const canonical = canonicalFor(slug, domain)
  await checkForward(db, { domainId: domain.id, canonical }, given.destination, 'destination', under.transaction)
  const { domain: _host, slug: _slug, status: _status, tags: _tags, reason: _reason, ...fields } = given
  const link = await db.Link.create(
    {
      domainId: domain.id,
      slug,
      canonical,
      ...(modelValues(LINK_FIELDS, fields) as Pick<NewLink, 'destination'>),
      destinationHash: destinationHash(given.destination),
      status: given.status ?? domain.defaultStatus,
      searchText: searchText(domain.host, { ...given, slug }),
      createdAt: under.now,
      updatedAt: under.now,
    },
    { transaction: under.transaction },
  )
  await writeTags(db, link.id, given.tags, under.transaction)
  const found = await refuseConflicts(db, under, { links: [link.id] }, given.reason)
  if (found.some(({ conflict }) => conflict.kind === 'rule-breaker'))
    await link.update({ exception: true }, { transaction: under.transaction })
  await under.record({
    action: 'create',
    subject: { kind: 'link', id: link.id, label: `${domain.host}/${slug}` },
    reason: given.reason,
    before: null,
    after: linkState(link, given.tags),
  })
  await acceptConflicts(db, under, found, given.reason)
  return tellLink(link, domain, [...given.tags].sort(), under.now)
}
