import { QueryTypes } from 'sequelize'
import {
  advanceHeld,
  hostOfName,
  judgeSigning,
  makeZone,
  nameOfHost,
  nextLook,
  serversSeen,
  writeZone,
  type Observation,
  type SigningVerdict,
} from '../../../core/dns'
import { isOpenStanding, type Certificate, type Reach } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { DomainWatchModel } from '../../database/models/domain-watch'
import { askZone } from '../../names/ask-zone'
import { readCertificate } from '../../names/certificate'
import type { NamesContext } from '../../names/context'
import { discover } from '../../names/discover'
import { addressesOf, checkReach } from '../../names/reach'
import { runChange, type Actor } from '../ledger/change'
import { domainState, writeDomain } from './change-domain'
import { composeOverview, readObservation, zoneServers, type DomainOverview } from './domain-overview'
import { readBroughtZone } from './domain-zone'
import { keepDomainCases } from '../../docket/domains/keep-domain-cases'
import { seeSigning } from '../../names/signing'
import { askAround } from './ask-around'
import { keepObservations } from './keep-observations'
import { lastFailure } from './certificate-events'
import { readSerialRuns } from './serial-runs'

const WATCH: Actor = { memberId: null, name: 'Watch', role: 'administrator' }
/** Name servers are found anew this often, in milliseconds. */
const SERVERS_MS = 3_600_000
const CERTIFICATE_MS = 3_600_000
const CERTIFICATE_SOON_MS = 60_000
/** A domain somebody is just bringing is looked at this many times as often. */
const BUSY = 10
const BUSY_MS = 2 * 86_400_000
const MIN_MS = 2000
/** After an open domain was not reached for the first time, it is tried again so soon. */
const AGAIN_MS = 10_000

/**
 * Looks at one domain: finds its name servers, asks each of them and every resolver, keeps what they say, moves the
 * domain's standing by it, makes and settles its cases, and says when to look again.
 */
export async function lookAtDomain(
  db: Database,
  names: NamesContext,
  domainId: number,
  pace?: () => Promise<void>,
): Promise<void> {
  const [domain, found] = await Promise.all([db.Domain.findByPk(domainId), db.DomainWatch.findByPk(domainId)])
  if (!domain || !found) return
  const watch = found
  const began = Date.now()
  const name = nameOfHost(domain.host)
  await findServers()
  let brought = await readBroughtZone(db, domainId)
  if (!brought && watch.servers.length > 0) {
    await seeZone(db, names, domain, watch, pace)
    brought = await readBroughtZone(db, domainId)
  }
  const rows = await db.Observation.findAll({ where: { domainId, latest: true } })
  const before = composeOverview({ domain, brought, watch, latest: rows.map(readObservation), names, now: new Date() })
  const settled =
    domain.standing === 'open' && before.sighting.everyoneBy !== undefined && began > before.sighting.everyoneBy
  const { questions } = before
  const seen = await askAround(names, {
    host: domain.host,
    origin: watch.zoneOrigin,
    servers: watch.servers,
    questions,
    light: settled,
    pace,
  })
  if (watch.servers.length > 0) await keepHeldUntil(before, seen)
  const latest = await keepObservations(db, domainId, rows, seen, watch.servers, names)

  const reach = await probeReach(before.plan)
  const now = new Date()
  const overview = composeOverview({ domain, brought, watch, latest, names, now })
  const { sighting } = overview
  const targetExists = await seeTarget(overview)
  // Looking at what the front serves would have it try for one.
  const shutOutNow = await noteIssuer(overview)
  const certificate =
    !shutOutNow &&
    isOpenStanding(domain.standing) &&
    (!watch.certificate || began - Date.parse(watch.certificate.at) > certificateAge(watch.certificate))
      ? await readCertificate(names, domain.host, now, pace)
      : undefined
  if (sighting.standing !== domain.standing)
    await changeBySight(
      db,
      domain,
      { standing: sighting.standing },
      `${domain.host} was seen to be ${sighting.standing}`,
    )
  const signing = await seeSigned(overview)
  const isBehind = serversSeen(zoneServers(watch.servers), latest).some((server) => server.isBehind)
  const serials = isBehind ? await readSerialRuns(db, domainId, now) : []
  const failedTwice = reach !== undefined && !reach.ok && watch.reach !== null && !watch.reach.ok
  await keepDomainCases(
    db,
    names,
    {
      ...overview,
      targetExists,
      notReached: failedTwice ? reach : undefined,
      signing,
      serials,
      certificate: await judged(certificate ?? watch.certificate),
    },
    now,
  )
  const busy =
    !isOpenStanding(domain.standing) &&
    now.getTime() - Math.max(domain.updatedAt.getTime(), domain.createdAt.getTime()) < BUSY_MS
  const firstSilence = latest.some(
    (each) => each.role === 'authority' && ['silent', 'failed'].includes(each.status) && each.at === each.firstAt,
  )
  const again = isOpenStanding(domain.standing) && ((reach !== undefined && !reach.ok && !failedTwice) || firstSilence)
  const next = nextLook({
    now: now.getTime(),
    interval: again ? Math.min(AGAIN_MS, names.watchMs) : busy ? Math.max(MIN_MS, names.watchMs / BUSY) : names.watchMs,
    lapses: sighting.lapses,
  })
  await db.sequelize.query(
    // A look that somebody asked for meanwhile is not put off.
    `UPDATE domain_watch SET due_at = IF(due_at > :began, due_at, :due), why = :why, looked_at = :now, leased_until =
      NULL, zone_origin = :origin, servers = :servers, servers_at = :serversAt,
       lowered_at = :lowered, changed_at = :changed, everyone_by = :everyone,
       signing = COALESCE(:signing, signing), reach = COALESCE(:reach, reach),
       certificate = COALESCE(:certificate, certificate)
     WHERE domain_id = :id`,
    {
      type: QueryTypes.UPDATE,
      replacements: {
        began: new Date(began),
        due: new Date(next.at),
        why: next.why,
        now,
        id: domainId,
        origin: watch.zoneOrigin,
        servers: JSON.stringify(watch.servers),
        serversAt: watch.serversAt,
        lowered: moment(sighting.loweredAt),
        changed: moment(sighting.changedAt),
        signing: signing?.state ?? null,
        everyone: moment(sighting.everyoneBy),
        reach: reach ? JSON.stringify(reach) : null,
        certificate: certificate ? JSON.stringify(certificate) : null,
      },
    },
  )

  /** A certificate is missed where the front is ours to serve one, or the domain sends everybody to https. */
  async function judged(served: DomainWatchModel['certificate']) {
    if (!served || !(names.front || domain!.httpsOnly)) return undefined
    return { served, failure: await lastFailure(db, domain!.host) }
  }

  /**
   * Where CAA shuts the issuer out the front must not even try: failed tries count against everybody's limits. Tells
   * whether it is so from now on.
   */
  async function noteIssuer({ caa, latest: observed }: DomainOverview): Promise<boolean> {
    const seen = observed.some((each) => each.type === 'CAA' && each.status !== 'silent')
    if (names.gateway.issuers.length === 0 || !seen || domain!.issuerShutOut === !caa.allowed) return false
    await changeBySight(db, domain!, { issuerShutOut: !caa.allowed }, caa.sentence)
    return !caa.allowed
  }

  async function findServers(): Promise<void> {
    if (watch.servers.length > 0 && watch.serversAt && began - watch.serversAt.getTime() < SERVERS_MS) return
    const view = await discover(names, name, pace)
    if (!view) return
    watch.set({ zoneOrigin: view.origin, servers: view.servers, serversAt: new Date() })
  }

  /** Stored before the answers are: a look that is cut off between the two must not make the forecast early. */
  async function keepHeldUntil({ plan, latest: previous }: DomainOverview, fresh: readonly Observation[]) {
    const until = advanceHeld({
      wanted: [...questions.authority, ...questions.visited],
      previous,
      seen: fresh,
      before: watch.heldUntil?.getTime(),
      planned: isOpenStanding(domain!.standing) ? 0 : Math.max(plan.oldTtl, plan.negativeTtl),
      now: Date.now(),
      speed: names.ttlSpeed,
    })
    if (until !== watch.heldUntil?.getTime()) await watch.update({ heldUntil: new Date(until) })
  }

  /**
   * Of a domain that is being switched it is asked what visitors meet; of an open one whether the front still answers
   * where its records should lead.
   */
  async function probeReach({ needed }: DomainOverview['plan']): Promise<Reach | undefined> {
    if (domain!.standing === 'not-proved' || needed.pointing.length === 0) return undefined
    const through =
      needed.use === 'cname' ? hostOfName(needed.pointing[0]!.data) : needed.pointing.map((record) => record.data)
    return checkReach(names, domain!.host, new Date(), { pace, ...(isOpenStanding(domain!.standing) && { through }) })
  }

  /** How the zone is signed, judged; `undefined` where nobody tells. */
  async function seeSigned({ latest: observed }: DomainOverview): Promise<SigningVerdict | undefined> {
    const origin = watch.zoneOrigin
    if (!origin || watch.servers.length === 0) return undefined
    const view = await seeSigning(names, {
      origin,
      servers: watch.servers.map(({ name: label, address }) => ({ label, address })),
      asked: questions.resolver.slice(0, 1),
      seen: observed,
      pace,
    })
    return view && judgeSigning(name, origin, view, Date.now())
  }

  /** Whether the name a CNAME leads to has an address; `undefined` where no resolver tells. */
  async function seeTarget({ plan }: DomainOverview): Promise<boolean | undefined> {
    const [pointing] = plan.needed.pointing
    if (!isOpenStanding(domain!.standing) || pointing?.type !== 'CNAME') return undefined
    const addresses = await addressesOf(names, hostOfName(pointing.data), pace)
    return addresses && addresses.length > 0
  }
}

/** A certificate is read again each hour, and each minute once it should have been renewed. */
const certificateAge = ({ validFrom, validTo }: Certificate): number => {
  const [from, to] = [Date.parse(validFrom ?? ''), Date.parse(validTo ?? '')]
  return to - Date.now() < (to - from) / 3 ? CERTIFICATE_SOON_MS : CERTIFICATE_MS
}

const moment = (milliseconds: number | undefined) => (milliseconds === undefined ? null : new Date(milliseconds))

/** Keeps what the name servers say of a zone nobody brought. */
async function seeZone(
  db: Database,
  names: NamesContext,
  domain: DomainModel,
  watch: DomainWatchModel,
  pace?: () => Promise<void>,
): Promise<void> {
  const origin = watch.zoneOrigin!
  const asked = await askZone(names, { origin, servers: watch.servers }, nameOfHost(domain.host), pace)
  if (!asked.ok) return
  const text = Buffer.from(writeZone(origin, makeZone(origin, asked.records).records), 'latin1')
  await db.DomainZone.findOrCreate({
    where: { domainId: domain.id },
    defaults: { domainId: domain.id, origin, text, source: 'asked', toldBy: asked.toldBy, readAt: new Date() },
  })
}

/** Changes a domain by what was seen, as a change of its own in the ledger. */
async function changeBySight(
  db: Database,
  domain: DomainModel,
  seen: Partial<Pick<DomainModel, 'standing' | 'issuerShutOut'>>,
  reason: string,
): Promise<void> {
  const was = domain.standing
  await runChange(db, WATCH, async (change) => {
    await domain.reload({ transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
    // A person opened or closed it meanwhile: the next look tells.
    if (domain.standing !== was) return
    const before = domainState(domain)
    const after = { ...before, ...seen }
    await writeDomain(db, change, domain, after)
    await change.record({
      action: 'see',
      subject: { kind: 'domain', id: domain.id, label: domain.host },
      reason: reason.slice(0, 500),
      before,
      after,
    })
  })
}
