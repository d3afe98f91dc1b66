import { Op } from 'sequelize'
import { canonicalSlug, showHost } from '../../../../core/address'
import type { FoundRemedy } from '../../../../core/targets'
import type { RoundFix, RoundGroup } from '../../../../core/schemas'
import type { DocketCaseModel } from '../../../database/models/docket-case'
import type { DomainModel } from '../../../database/models/domain'
import type { LinkModel } from '../../../database/models/link'
import type { MissModel } from '../../../database/models/miss'
import type { TargetModel } from '../../../database/models/target'
import type { Database } from '../../../database/open'
import { missKey } from '../../../docket/misses/keys'

/** Remedies less sure than this need a decision. */
const MIN_SURENESS = 0.9
/** Requests that mean one link with less than this need a decision. */
const MIN_PROBABILITY = 0.95
const MAX_CASES = 500

/** One fix with what applying it needs. */
export type Planned = { row: DocketCaseModel; fix: RoundFix; group: Omit<RoundGroup, 'fixes' | 'visits'> } & (
  | { kind: 'destination'; target: TargetModel; links: LinkModel[]; destination: string; triedAt: number }
  | { kind: 'slug'; miss: MissModel; domain: DomainModel; canonical: string; link: LinkModel }
)

/**
 * The remedies of open cases that need no decision: certain, tried, and undone in one step with all others. Cases are
 * of two lanes: destinations that moved, and mistyped addresses that mean one link.
 */
export async function planRound(db: Database): Promise<Planned[]> {
  const rows = await db.DocketCase.findAll({
    where: { state: 'open', lane: { [Op.in]: ['targets', 'misses'] } },
    order: [
      ['impact', 'DESC'],
      ['id', 'ASC'],
    ],
    limit: MAX_CASES,
  })
  const domains = new Map((await db.Domain.findAll()).map((domain) => [domain.id, domain]))
  const [destinations, slugs] = await Promise.all([
    destinationFixes(
      db,
      rows.filter(({ lane }) => lane === 'targets'),
      domains,
    ),
    slugFixes(
      db,
      rows.filter(({ lane }) => lane === 'misses'),
      domains,
    ),
  ])
  return [...destinations, ...slugs]
}

type Domains = ReadonlyMap<number, DomainModel>
const addressOf = (domains: Domains, { domainId, slug }: Pick<LinkModel, 'domainId' | 'slug'>) =>
  `${showHost(domains.get(domainId)!.host)}/${slug}`

/** How a group of fixes is called, and why they are certain. */
const KINDS: Partial<Record<FoundRemedy['kind'], { title: (host: string) => string; why: string }>> = {
  'chain-end': { title: () => 'Destinations that redirect permanently', why: 'point straight at the end' },
  'sister-move': { title: (host) => `Pages moved on ${host}`, why: 'same pattern, replacement pages respond' },
  https: { title: () => 'Destinations that also answer over HTTPS', why: 'same page over HTTPS' },
}

async function destinationFixes(db: Database, rows: DocketCaseModel[], domains: Domains): Promise<Planned[]> {
  const targets = new Map(
    (await db.Target.findAll({ where: { hash: rows.map(({ caseKey }) => caseKey) } })).map((one) => [one.hash, one]),
  )
  const links = await db.Link.findAll({
    where: { destinationHash: [...targets.keys()], forwardsTo: null, standing: ['live', 'paused'] },
    attributes: ['id', 'domainId', 'slug', 'destinationHash'],
    order: [['id', 'ASC']],
  })
  const planned: Planned[] = []
  for (const row of rows) {
    const target = targets.get(row.caseKey)
    const [best] = [...(target?.remedies?.offers ?? [])].sort((a, b) => b.sureness - a.sureness)
    const kind = best && KINDS[best.kind]
    if (!target || !best || !kind || best.sureness < MIN_SURENESS) continue
    const leading = links.filter(({ destinationHash }) => destinationHash === target.hash)
    const [first] = leading
    if (!first) continue
    const more = leading.length > 1 ? ` and ${leading.length - 1} more` : ''
    planned.push({
      kind: 'destination',
      row,
      target,
      links: leading,
      destination: best.destination,
      triedAt: target.remedies!.at,
      group: {
        key: `${best.kind} ${best.kind === 'sister-move' ? target.host : ''}`,
        title: kind.title(target.host),
        why: kind.why,
      },
      fix: {
        case: row.id,
        version: row.version,
        address: addressOf(domains, first) + more,
        before: target.destination,
        after: best.destination,
        links: leading.length,
        slugs: 0,
        visits: Number(row.impact),
        sureness: best.sureness,
        verifiedAt: new Date(target.remedies!.at).toISOString(),
      },
    })
  }
  return planned
}

async function slugFixes(db: Database, rows: DocketCaseModel[], domains: Domains): Promise<Planned[]> {
  if (rows.length === 0) return []
  const misses = await db.Miss.findAll({
    where: { answered: false, noise: null, linkId: null, likely: { [Op.gte]: MIN_PROBABILITY } },
    order: [['visitors28', 'DESC']],
    limit: MAX_CASES,
  })
  const cases = new Map(rows.map((row) => [row.caseKey, row]))
  const clear = misses.flatMap((miss) => {
    const row = cases.get(missKey(miss))
    const domain = domains.get(miss.domainId)
    const [best] = miss.ranking?.candidates ?? []
    const canonical = domain && canonicalSlug(miss.path, domain)
    return row && domain && canonical && best?.live && best.probability >= MIN_PROBABILITY
      ? [{ miss, row, domain, canonical, best }]
      : []
  })
  if (clear.length === 0) return []
  const links = new Map(
    (await db.Link.findAll({ where: { id: clear.map(({ best }) => best.link), forwardsTo: null } })).map((link) => [
      link.id,
      link,
    ]),
  )
  const taken = new Set(
    (
      await db.Link.findAll({
        where: { canonical: clear.map(({ canonical }) => canonical) },
        attributes: ['domainId', 'canonical'],
      })
    ).map(({ domainId, canonical }) => `${domainId}/${canonical}`),
  )
  const now = new Date().toISOString()
  return clear.flatMap(({ miss, row, domain, canonical, best }): Planned[] => {
    const link = links.get(best.link)
    if (!link || taken.has(`${domain.id}/${canonical}`)) return []
    return [
      {
        kind: 'slug',
        row,
        miss,
        domain,
        canonical,
        link,
        group: {
          key: 'slugs',
          title: 'Mistyped addresses with one clear meaning',
          why: 'added as slugs of the intended links',
        },
        fix: {
          case: row.id,
          version: row.version,
          address: `${showHost(domain.host)}/${miss.path}`,
          before: '',
          after: addressOf(domains, link),
          links: 0,
          slugs: 1,
          visits: Number(row.impact),
          sureness: best.probability,
          verifiedAt: now,
        },
      },
    ]
  })
}
