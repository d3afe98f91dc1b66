import { Op } from 'sequelize'
import { hostOfName, judgeSight, serversSeen, type Observation, type Wanted } from '../../../core/dns'
import type { CertificateView, ForecastView, ObservationsView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { readCertificate } from '../../names/certificate'
import type { NamesContext } from '../../names/context'
import { readOverview, zoneServers, type DomainOverview } from './domain-overview'
import { listCertificateEvents } from './certificate-events'
import { findDomain } from './find-domain'
import { notFound } from '../problem'

const iso = (moment: Date | number | null | undefined) =>
  moment === null || moment === undefined ? null : new Date(moment).toISOString()

/** The sets shown in the matrix, with what each server should say of them. */
function wantedSets({ questions, plan }: DomainOverview): Wanted[] {
  const sets = [
    ...questions.authority,
    ...questions.resolver.filter((set) => !questions.authority.includes(set)),
    questions.proof,
  ]
  return plan.needed.caa ? [...sets, { name: plan.needed.caa.name, type: 'CAA', data: [plan.needed.caa.data] }] : sets
}

/** What every name server and resolver was last seen to say of a domain's records. */
export async function readObservations(db: Database, names: NamesContext, id: number): Promise<ObservationsView> {
  const domain = await findDomain(db, id)
  const overview = await readOverview(db, names, domain, new Date())
  const wanted = wantedSets(overview)
  const servers = new Map<string, ObservationsView['servers'][number]>()
  for (const server of overview.watch?.servers ?? [])
    servers.set(`authority ${server.name}`, { role: 'authority', server: server.name })
  for (const resolver of names.resolvers)
    servers.set(`resolver ${resolver.name}`, { role: 'resolver', server: resolver.name })
  const tell = (seen: Observation): ObservationsView['items'][number] => {
    const set = wanted.find((each) => each.name === seen.name && each.type === seen.type)
    return {
      role: seen.role,
      server: seen.server,
      name: hostOfName(seen.name),
      type: seen.type,
      status: seen.status,
      data: seen.data,
      ttl: seen.ttl,
      sight: set ? judgeSight(set, seen) : null,
      firstAt: iso(seen.firstAt)!,
      lastAt: iso(seen.at)!,
      lapsesAt:
        seen.role === 'resolver' && seen.ttl !== null ? iso(seen.at + (seen.ttl * 1000) / names.ttlSpeed) : null,
    }
  }
  return {
    wanted: wanted.map((set) => ({ name: hostOfName(set.name), type: set.type, data: [...set.data] })),
    servers: [...servers.values()],
    items: overview.latest.filter((seen) => servers.has(`${seen.role} ${seen.server}`)).map(tell),
    nameServers: serversSeen(zoneServers(overview.watch?.servers ?? []), overview.latest).map(
      ({ label, since, serial, ...seen }) => ({ ...seen, server: label, serial: serial ?? null, since: iso(since)! }),
    ),
    signing: overview.watch?.signing ?? null,
    reach: overview.watch?.reach ?? null,
    lookedAt: iso(overview.watch?.lookedAt),
    dueAt: iso(overview.watch?.dueAt),
    why: overview.watch?.why ?? '',
    ttlSpeed: names.ttlSpeed,
  }
}

/** When everyone will see the new records, resolver by resolver. */
export async function readForecast(db: Database, names: NamesContext, id: number): Promise<ForecastView> {
  const domain = await findDomain(db, id)
  const now = new Date()
  const { sighting, watch } = await readOverview(db, names, domain, now)
  const { changedAt, everyoneBy, oldTtl, negativeTtl, heldTtl, resolvers, allSee } = sighting
  const order = names.resolvers.map(({ name }) => name)
  const looked = watch?.lookedAt !== null && watch !== null
  const number = (value: number) => value.toLocaleString('en')
  const held =
    changedAt !== undefined
      ? `At the change resolvers could hold other answers for ${number(heldTtl)} s.`
      : `${oldTtl > 0 ? `The old record’s TTL counts ${number(oldTtl)} s; ` : ''}“no such record” is kept ` +
        `for ${number(negativeTtl)} s (the zone’s SOA).`
  const sentence = !looked
    ? 'Nobody was asked yet.'
    : changedAt === undefined
      ? `Not every name server has the new records yet. ${held}`
      : everyoneBy === undefined
        ? held
        : everyoneBy > now.getTime()
          ? held
          : allSee
            ? `Everyone sees the new records. ${held}`
            : `Every old answer must have lapsed by now, and still not every resolver gives the new one. ${held}`
  return {
    changedAt: iso(changedAt),
    everyoneBy: iso(everyoneBy),
    sentence,
    oldTtl,
    negativeTtl,
    ttlSpeed: names.ttlSpeed,
    now: now.toISOString(),
    // In the order they are set up in, whichever of them answered first.
    resolvers: [...resolvers]
      .sort((a, b) => order.indexOf(a.server) - order.indexOf(b.server))
      .map((resolver) => ({
        server: resolver.server,
        state: resolver.state,
        by: iso(resolver.by),
        stretches: resolver.stretches,
      })),
  }
}

/** Which names of a domain need a certificate, what CAA allows, and what the front serves now. */
export async function readCertificateOf(db: Database, names: NamesContext, id: number): Promise<CertificateView> {
  const domain = await findDomain(db, id)
  const overview = await readOverview(db, names, domain, new Date())
  const served = await readCertificate(names, domain.host, new Date())
  if (overview.watch) await db.DomainWatch.update({ certificate: served }, { where: { domainId: id } })
  const seen = overview.latest.some((observation) => observation.type === 'CAA' && observation.status !== 'silent')
  return {
    names: [{ name: domain.host, why: 'Every short address on the domain begins with it.' }],
    caa: seen
      ? { allowed: overview.caa.allowed, sentence: overview.caa.sentence }
      : overview.brought
        ? { allowed: overview.plan.needed.caaVerdict.allowed, sentence: overview.plan.needed.caaVerdict.sentence }
        : null,
    issuers: [...names.gateway.issuers],
    served,
    reach: overview.watch?.reach ?? null,
    events: await listCertificateEvents(db, domain.host),
    front: names.front,
  }
}

/** Has the watch look at a domain at once. */
export async function lookNow(db: Database, id: number): Promise<void> {
  await findDomain(db, id)
  const [changed] = await db.DomainWatch.update({ dueAt: new Date() }, { where: { domainId: id } })
  if (changed === 0) throw notFound('watch of this domain')
}

/** Forgets answers that were superseded longer ago than `days`. */
export const forgetObservations = (db: Database, days: number) =>
  db.Observation.destroy({ where: { latest: false, lastAt: { [Op.lt]: new Date(Date.now() - days * 86_400_000) } } })
