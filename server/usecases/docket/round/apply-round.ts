import pLimit from 'p-limit'
import type { RoundApplied, RoundApply } from '../../../../core/schemas'
import { counted } from '../../../../core/text/counted'
import type { Database } from '../../../database/open'
import { settle } from '../../../docket/keeper'
import { FRESH_MS } from '../../../docket/targets/remedies'
import type { NamesContext } from '../../../names/context'
import { changeOverAt } from '../../changes/apply-proposal'
import { OwnParts, refuseCircles } from '../../changes/check-circles'
import { leaveSlugs } from '../../changes/move-links'
import { writeMany, type ManyContext, type Part } from '../../changes/write-many'
import { circleSurvey } from '../../conflicts/survey'
import type { Actor } from '../../ledger/change'
import { linkState } from '../../links/link-state'
import { Problem } from '../../problem'
import { tryAgain } from '../../targets/try-again'
import { planRound, type Planned } from './plan'

const MAX_TRIED_AT_ONCE = 6

type Destination = Extract<Planned, { kind: 'destination' }>
type Slug = Extract<Planned, { kind: 'slug' }>

/**
 * Applies the chosen fixes of the morning round as one entry of the ledger, all of them or none. A fix that is no
 * longer in the plan, whose case changed, or whose new destination no longer answers is dropped and reported.
 */
export async function applyRound(
  db: Database,
  names: NamesContext,
  actor: Actor,
  request: RoundApply,
): Promise<RoundApplied> {
  const dropped: RoundApplied['dropped'] = []
  const plan = new Map((await planRound(db)).map((planned) => [planned.fix.case, planned]))
  const chosen: Planned[] = []
  for (const { case: id, version } of new Map(request.fixes.map((fix) => [fix.case, fix])).values()) {
    const planned = plan.get(id)
    if (planned?.fix.version === version) chosen.push(planned)
    else
      dropped.push({
        case: id,
        address: planned?.fix.address ?? '',
        why: planned ? 'The case changed since the plan was read.' : 'The case no longer needs this fix.',
      })
  }
  const limit = pLimit(MAX_TRIED_AT_ONCE)
  const tried = await Promise.all(
    chosen.map((planned) =>
      limit(async () => {
        if (planned.kind !== 'destination' || Date.now() - planned.triedAt <= FRESH_MS) return planned
        try {
          await tryAgain(db, names, planned.destination)
          return planned
        } catch (error) {
          if (!(error instanceof Problem)) throw error
          dropped.push({ case: planned.fix.case, address: planned.fix.address, why: error.detail })
          return undefined
        }
      }),
    ),
  )
  const fixes = tried.filter((planned) => planned !== undefined)
  const destinations = fixes.filter((planned): planned is Destination => planned.kind === 'destination')
  const slugs = withoutTwins(fixes.filter((planned): planned is Slug => planned.kind === 'slug'))
  if (destinations.length + slugs.length === 0)
    return { entry: null, applied: 0, links: 0, slugs: 0, liveAt: null, dropped }

  const parts = partsOf(destinations)
  const entry = await write(db, actor, request.reason, parts, destinations, slugs)
  const written = await db.LedgerEntry.findByPk(entry)
  return {
    entry,
    applied: destinations.length + slugs.length,
    links: parts.length,
    slugs: slugs.length,
    liveAt: written?.liveAt?.toISOString() ?? null,
    dropped,
  }
}

/** Two requests may be one address to their domain: the second would find its slug taken. */
const withoutTwins = (slugs: Slug[]): Slug[] => [
  ...new Map(slugs.map((slug) => [`${slug.domain.id}/${slug.canonical}`, slug])).values(),
]

const partsOf = (destinations: readonly Destination[]): Part[] =>
  destinations
    .flatMap(({ links, destination, target }) =>
      links.map(({ id }): Part => ({
        linkId: id,
        before: { destination: target.destination },
        after: { destination },
      })),
    )
    .sort((a, b) => a.linkId - b.linkId)

async function write(
  db: Database,
  actor: Actor,
  reason: string | undefined,
  parts: readonly Part[],
  destinations: readonly Destination[],
  slugs: readonly Slug[],
): Promise<number> {
  const survey = await circleSurvey(db)
  const own = new OwnParts(survey)
  own.add(parts)
  const words = [
    parts.length > 0 && `${counted(parts.length, 'destination')} changed`,
    slugs.length > 0 && `${counted(slugs.length, 'slug')} added`,
  ]
    .filter(Boolean)
    .join(', ')
  const count = parts.length + slugs.length
  return writeMany(db, actor, {
    async *parts() {
      yield parts
    },
    about: {
      action: 'morning-round',
      subject: { kind: 'links', id: 0, label: words },
      reason,
      before: { count },
      after: { count, words },
    },
    liveAt: (now) => changeOverAt(count, now),
    lastLook: (transaction) => refuseCircles(db, transaction, survey, own, survey.revision),
    async along(context) {
      await addSlugs(db, context, slugs)
      await settleCases(db, context, actor, [...destinations, ...slugs])
    },
  })
}

async function addSlugs(
  db: Database,
  { transaction, hosts, keep }: ManyContext,
  slugs: readonly Slug[],
): Promise<void> {
  await leaveSlugs(
    db,
    transaction,
    slugs.map(({ domain, canonical, miss, link }) => ({
      forwardsTo: link.id,
      domainId: domain.id,
      slug: miss.path,
      canonical,
      state: linkState(link, []),
    })),
    hosts,
    keep,
  )
  for (const { miss, link, fix } of slugs) {
    const [count] = await db.Miss.update(
      {
        answered: true,
        answeredAt: new Date(),
        answeredBy: { by: 'alias', linkId: link.id, ruleId: null, address: fix.after },
        due: true,
        noise: null,
        version: miss.version + 1,
      },
      { where: { id: miss.id, version: miss.version }, transaction },
    )
    if (count === 0)
      throw new Problem(409, 'Changed since', `${miss.path} was decided by somebody else. Open the plan again.`)
  }
}

async function settleCases(
  db: Database,
  { transaction }: ManyContext,
  actor: Actor,
  fixes: readonly Planned[],
): Promise<void> {
  const now = new Date()
  for (const { row } of fixes) {
    const found = await db.DocketCase.findByPk(row.id, { transaction, lock: transaction.LOCK.UPDATE })
    if (found && found.state !== 'settled') await settle(found, actor.name, now, transaction)
  }
}
