import {
  judgeCaa,
  makeZone,
  nameOfHost,
  planProgress,
  readSighting,
  readSuffix,
  sightQuestions,
  switchPlan,
  type CaaVerdict,
  type DnsName,
  type DnsRecord,
  type Observation,
  type Sighting,
  type SightQuestions,
  type StepProgress,
  type SwitchPlan,
  type Zone,
  type ZoneServer,
} from '../../../core/dns'
import { isOpenStanding } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { DomainWatchModel, KnownServer } from '../../database/models/domain-watch'
import type { ObservationModel } from '../../database/models/observation'
import type { NamesContext } from '../../names/context'
import { readBroughtZone, type BroughtZone } from './domain-zone'

/** Everything known of a domain's switch at a moment: the zone brought, the plan, what was seen, and how far it is. */
export interface DomainOverview {
  domain: DomainModel
  name: DnsName
  brought: BroughtZone | undefined
  zone: Zone
  plan: SwitchPlan
  questions: SightQuestions
  watch: DomainWatchModel | null
  latest: Observation[]
  sighting: Sighting
  steps: StepProgress[]
  caa: CaaVerdict
}

/** A zone's name servers as the computations take them. */
export const zoneServers = (servers: readonly KnownServer[]): ZoneServer[] =>
  servers.map(({ name, address, others = [] }) => ({ name, addresses: [address, ...others] }))

/** An observation as the computations take it. */
export const readObservation = (row: ObservationModel): Observation => ({
  role: row.role,
  server: row.server,
  name: row.name,
  type: row.type,
  status: row.status,
  data: row.data,
  ttl: row.ttl,
  at: row.ttlAt.getTime(),
  firstAt: row.firstAt.getTime(),
  hadAnswered: Boolean(row.hadAnswered),
})

/** The CAA records resolvers were seen to give, as the climb asks for them. */
export const caaSeen =
  (latest: readonly Observation[]) =>
  (name: DnsName): DnsRecord[] =>
    (latest.find((seen) => seen.type === 'CAA' && seen.name === name && seen.status === 'answered')?.data ?? []).map(
      (data) => ({ name, type: 'CAA', ttl: 0, data }),
    )

/** Puts together what is known of a domain from what the database holds. */
export async function readOverview(
  db: Database,
  names: NamesContext,
  domain: DomainModel,
  now: Date,
): Promise<DomainOverview> {
  const [brought, watch, rows] = await Promise.all([
    readBroughtZone(db, domain.id),
    db.DomainWatch.findByPk(domain.id),
    db.Observation.findAll({ where: { domainId: domain.id, latest: true } }),
  ])
  return composeOverview({ domain, brought, watch, latest: rows.map(readObservation), names, now })
}

/** The zone a domain is planned in: the one brought, else an empty one at the likeliest top. */
export const plannedZone = (
  domain: DomainModel,
  brought: BroughtZone | undefined,
  watch: DomainWatchModel | null,
): Zone =>
  brought?.zone ?? makeZone(watch?.zoneOrigin ?? nameOfHost(readSuffix(domain.host).registrable ?? domain.host), [])

interface Parts {
  domain: DomainModel
  brought: BroughtZone | undefined
  watch: DomainWatchModel | null
  latest: Observation[]
  names: NamesContext
  now: Date
}

export function composeOverview({ domain, brought, watch, latest, names, now }: Parts): DomainOverview {
  const name = nameOfHost(domain.host)
  const zone = plannedZone(domain, brought, watch)
  const plan = switchPlan(zone, name, domain.proofToken, names.gateway)
  const questions = sightQuestions(plan.needed, name)
  const sighting = readSighting({
    current: domain.standing,
    questions,
    zone,
    replaced: [...plan.needed.replaced, ...plan.needed.throughWildcard],
    latest,
    now: now.getTime(),
    speed: names.ttlSpeed,
    loweredAt: watch?.loweredAt?.getTime(),
    changedAt: watch?.changedAt?.getTime(),
    heldUntil: watch?.heldUntil?.getTime(),
  })
  const steps = planProgress(plan.steps, {
    ...sighting,
    open: isOpenStanding(domain.standing),
    now: now.getTime(),
    ttlSpeed: names.ttlSpeed,
  })
  return {
    domain,
    name,
    brought,
    zone,
    plan,
    questions,
    watch,
    latest,
    sighting,
    steps,
    caa: judgeCaa(name, names.gateway.issuers, caaSeen(latest)),
  }
}
