import { QueryTypes } from 'sequelize'
import {
  DOMAIN_CASE_KINDS,
  findDrift,
  findRenewal,
  unreached,
  type DomainTrouble,
  type Observation,
} from '../../../core/dns'
import { isOpenStanding, type Reach } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import type { DomainOverview } from '../../usecases/domains/domain-overview'
import { caseKey, keepCases } from '../keeper'
import { DAYS } from '../../usecases/links/list-links'

/** Visits a day on a domain's links, over the last 28 days. */
async function visitsADay(db: Database, domainId: number): Promise<number> {
  const [sum] = await db.sequelize.query<{ visits: string | null }>(
    'SELECT SUM(visits_28) AS visits FROM link WHERE domain_id = ?',
    { replacements: [domainId], type: QueryTypes.SELECT },
  )
  return Math.round((Number(sum?.visits ?? 0) / DAYS) * 100) / 100
}

/** What is wrong with a domain by what was seen of it; a domain that is not open can only be due for renewal. */
export function domainTroubles(
  {
    domain,
    name,
    questions,
    latest,
    caa,
    sighting,
    targetExists,
    notReached,
  }: DomainOverview & { targetExists?: boolean; notReached?: Reach },
  names: NamesContext,
  now: Date,
): DomainTrouble[] {
  const renewal = findRenewal(name, domain.expiresOn, domain.registrar, now.getTime())
  const open = isOpenStanding(domain.standing)
  const drift = open
    ? findDrift({
        name,
        latest,
        targetExists,
        everyoneBy: sighting.everyoneBy,
        now: now.getTime(),
        pointing: [...questions.authority, ...questions.resolver.filter((set) => !questions.authority.includes(set))],
        caa:
          names.gateway.issuers.length > 0 && latest.some((seen) => seen.type === 'CAA' && seen.status !== 'silent')
            ? caa
            : undefined,
      })
    : []
  // Where records are wrong, that is why the gateway is not reached.
  const broken = drift.some((trouble) => trouble.severity === 'broken')
  return [
    ...drift,
    ...(notReached && open && !broken ? [unreached(name, notReached.sentence, notReached.address)] : []),
    ...(renewal ? [renewal] : []),
  ]
}

/** Keeps the cases of the Domains lane for one domain. */
export async function keepDomainCases(
  db: Database,
  names: NamesContext,
  overview: DomainOverview & { targetExists?: boolean; notReached?: Reach },
  now: Date,
): Promise<void> {
  const domainId = overview.domain.id
  const troubles = domainTroubles(overview, names, now)
  const impact = troubles.length > 0 ? await visitsADay(db, domainId) : 0
  const { authority, resolver } = overview.questions
  const isAsked = (seen: Observation) =>
    (seen.role === 'authority' ? authority : resolver).some((set) => set.name === seen.name && set.type === seen.type)
  const silent = new Set(
    overview.latest.filter((seen) => seen.status === 'silent' && isAsked(seen)).map((seen) => seen.server),
  )
  const asked = new Set(overview.latest.map((seen) => seen.server))
  const kinds = [...DOMAIN_CASE_KINDS]
  await db.sequelize.transaction(async (transaction) => {
    const there = await db.DocketCase.findAll({
      where: { lane: 'domains', domainId, kind: kinds },
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    await keepCases(
      db,
      troubles.map(({ harmAt, ...trouble }) => ({
        ...trouble,
        key: caseKey({ kind: trouble.kind, domainId, linkId: null, subject: trouble.subject }),
        domainId,
        linkId: null,
        links: [],
        impact,
        harmAt: harmAt === undefined ? null : new Date(harmAt),
        print: null,
        conflict: null,
      })),
      {
        there,
        now,
        transaction,
        // A server that said the wrong thing and now says nothing has not been mended.
        couldSee: (row) =>
          row.kind === 'renewal-due' ||
          row.kind === 'not-reached' ||
          !row.evidence.some((item) => item.state !== 'sound' && asked.has(item.label) && silent.has(item.label)),
      },
    )
  })
}
