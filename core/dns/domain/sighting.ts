import type { DnsName } from '../name'
import { negativeTtl, type DnsRecord } from '../record'
import type { Zone } from '../zone/zone'
import { LOW_TTL, proofName } from './facts'
import { forecast, judgeSight, ROUNDING_SECONDS, type SightState, type Wanted } from './forecast'
import type { Needed } from './needed'
import type { Observation } from './observation'
import { standingBySight, type DomainStanding } from './standing'

/** What is asked about a domain, and what each answer should be. */
export interface SightQuestions {
  /** The sets that point here, as each name server of the zone must give them. */
  authority: Wanted[]
  /** What a visitor's resolver is asked; where an alias leads here the answer begins with it. */
  resolver: Wanted[]
  /** The ownership record, asked of everyone. */
  proof: Wanted
  /** What visitors' resolvers ask, where name servers are asked for an alias: how long they let others be kept. */
  visited: Wanted[]
  /** Sets that go and are not asked for already: name servers are asked for them to see their TTL lowered. */
  old: { name: DnsName; type: string }[]
}

const VISITED = ['A', 'AAAA'] as const

/**
 * The questions that show how far a switch has come. A visitor's browser asks for addresses, never for CNAME, so that
 * is what resolvers are asked; an old address may be held long after the CNAME is there.
 */
export function sightQuestions(needed: Needed, name: DnsName): SightQuestions {
  const proof = { name: proofName(name), type: 'TXT', data: [needed.proof.data] }
  if (needed.pointing.length === 0) return { authority: [], resolver: [], visited: [], proof, old: [] }
  if (needed.use === 'cname') {
    const target = needed.pointing[0]!.data
    const visited = VISITED.map((type) => ({ name, type, data: [`CNAME ${target}`] }))
    return {
      authority: [{ name, type: 'CNAME', data: [target] }],
      resolver: visited,
      visited,
      proof,
      old: needed.replaced
        .filter((record) => record.type !== 'CNAME')
        .map(({ name: at, type }) => ({ name: at, type })),
    }
  }
  const types = VISITED.filter((type) =>
    [...needed.pointing, ...needed.replaced].some((record) => record.type === type),
  )
  const sets = types.map((type) => ({
    name,
    type,
    data: needed.pointing.filter((record) => record.type === type).map((record) => record.data),
  }))
  return {
    authority: sets,
    resolver: sets,
    visited: [],
    proof,
    old: needed.replaced
      .filter((record) => !types.some((type) => type === record.type))
      .map(({ name: at, type }) => ({ name: at, type })),
  }
}

export interface SightingInput {
  current: DomainStanding
  questions: SightQuestions
  /** The zone as it was before the change, for the TTLs of what resolvers may still hold. */
  zone: Zone
  replaced: readonly DnsRecord[]
  /** The latest answer of each server to each question. */
  latest: readonly Observation[]
  /** When the old records were first seen with the low TTL, and the new ones at every name server; milliseconds. */
  loweredAt: number | undefined
  changedAt: number | undefined
  /** Until when others' resolvers may hold other answers (`advanceHeld`); milliseconds. */
  heldUntil?: number
  now: number
  speed: number
}

/** How a domain's switch stands by what was seen. Moments in milliseconds, TTLs in seconds. */
export interface Sighting {
  standing: DomainStanding
  proved: boolean
  loweredAt: number | undefined
  changedAt: number | undefined
  oldTtl: number
  negativeTtl: number
  /** How long others' resolvers could hold other answers at the change; seconds, 0 before it. */
  heldTtl: number
  everyoneBy: number | undefined
  resolvers: { server: string; state: SightState; by: number | undefined; stretches: boolean }[]
  /** Every resolver that answers gives the new records. */
  allSee: boolean
  /** Moments at which an answer now held must lapse. */
  lapses: number[]
}

const WORST: readonly SightState[] = ['old', 'absent', 'faulty', 'silent', 'new']
const said = (state: SightState) => state !== 'silent' && state !== 'faulty'

/** Reads a domain's state off what its name servers and the resolvers were last seen to say. */
export function readSighting(input: SightingInput): Sighting {
  const { questions, zone, replaced, latest, now, speed } = input
  const servers = (role: Observation['role']) => [
    ...new Set(latest.filter((seen) => seen.role === role && seen.type !== 'SOA').map((seen) => seen.server)),
  ]
  const find = (role: Observation['role'], server: string, wanted: Wanted) =>
    latest.find(
      (seen) => seen.role === role && seen.server === server && seen.name === wanted.name && seen.type === wanted.type,
    )
  const sights = (role: Observation['role'], sets: readonly Wanted[]) =>
    servers(role).map((server) => sets.map((wanted) => judgeSight(wanted, find(role, server, wanted))))

  const authorities = sights('authority', questions.authority)
  const atResolvers = sights('resolver', questions.resolver)
  const proofs = sights('authority', [questions.proof]).flat()
  const standing = standingBySight({ current: input.current, proof: proofs, authorities, resolvers: atResolvers })

  const [soa] = zone.set(zone.origin, 'SOA')
  const negative = soa ? negativeTtl(soa) : 0
  const longest = Math.max(0, ...replaced.map((record) => record.ttl))
  const pointsHere =
    authorities.length > 0 &&
    authorities.some((states) => states.some(said)) &&
    authorities.every((states) => states.every((state) => state === 'new' || !said(state)))
  const since = servers('authority')
    .flatMap((server) => questions.authority.map((wanted) => find('authority', server, wanted)))
    .filter((seen) => seen !== undefined && seen.status !== 'silent')
  const changedAt = pointsHere ? (input.changedAt ?? Math.max(...since.map((seen) => seen!.firstAt))) : undefined
  const loweredAt = changedAt === undefined ? lowered() : input.loweredAt
  const heldTtl =
    changedAt === undefined || input.heldUntil === undefined
      ? 0
      : Math.max(0, Math.round(((input.heldUntil - changedAt) * speed) / 1000))
  const forecasts = questions.resolver.map((wanted) =>
    forecast({
      wanted,
      changedAt,
      heldUntil: input.heldUntil,
      speed,
      resolvers: servers('resolver').map((server) => ({
        server,
        seen: [find('resolver', server, wanted)].filter((seen) => seen !== undefined),
      })),
    }),
  )
  const resolvers = servers('resolver').map((server) => {
    const view = forecasts.map((each) => each.resolvers.find((resolver) => resolver.server === server)!)
    const state = WORST.find((candidate) => view.some((each) => each.state === candidate)) ?? 'silent'
    const known = view.filter((each) => each.state !== 'new').map((each) => each.by)
    return {
      server,
      state,
      by:
        state === 'new'
          ? Math.max(...view.map((each) => each.by!))
          : known.length === 0 || known.includes(undefined)
            ? undefined
            : Math.max(...(known as number[])),
      stretches: view.some((each) => each.stretches),
    }
  })
  const moments = forecasts.map((each) => each.everyoneBy)
  const lapses = latest
    .filter((seen) => seen.role === 'resolver' && seen.ttl !== null && isOld(seen))
    .map((seen) => seen.at + ((seen.ttl! + ROUNDING_SECONDS) * 1000) / speed)
  if (loweredAt !== undefined && changedAt === undefined) lapses.push(loweredAt + (longest * 1000) / speed)
  return {
    standing,
    proved: proofs.some(said) && proofs.filter(said).every((state) => state === 'new'),
    loweredAt,
    changedAt,
    oldTtl: longest,
    negativeTtl: negative,
    heldTtl,
    resolvers,
    lapses,
    everyoneBy: moments.length === 0 || moments.includes(undefined) ? undefined : Math.max(...(moments as number[])),
    allSee:
      resolvers.some((resolver) => said(resolver.state)) &&
      resolvers.every((resolver) => resolver.state === 'new' || !said(resolver.state)),
  }

  function isOld(seen: Observation): boolean {
    const wanted = questions.resolver.find((candidate) => candidate.name === seen.name && candidate.type === seen.type)
    return wanted !== undefined && ['old', 'absent'].includes(judgeSight(wanted, seen))
  }
  /** Since when every name server that answers gives the old records with the low TTL. */
  function lowered(): number | undefined {
    if (longest <= LOW_TTL) return undefined
    const old = latest.filter(
      (seen) =>
        seen.role === 'authority' &&
        seen.status === 'answered' &&
        replaced.some((record) => record.name === seen.name && record.type === seen.type),
    )
    if (old.length === 0 || old.some((seen) => seen.ttl === null || seen.ttl > LOW_TTL)) return undefined
    return input.loweredAt ?? now
  }
}
