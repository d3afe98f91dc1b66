import { hostOfName, type DnsName } from '../name'
import { readSoa } from '../record'
import { compareSerials } from '../zone/serial'
import { STATUS_WORDS, type Observation } from './observation'
import { listed } from '../../text/listed'
import { clockWords, spanWords, type DomainTrouble } from './trouble'

/** A name server of a zone with each address it is asked at, the first being the one asked for records. */
export interface ZoneServer {
  name: string
  addresses: readonly string[]
}

/** What observations call one address of a server: its name, and for a further address that too. */
export const serverLabel = (server: ZoneServer, address: string): string =>
  address === server.addresses[0] ? server.name : `${server.name} (${address})`

/** A run of one serial at one server. */
export interface SerialRun {
  serial: number
  /** Milliseconds. */
  firstAt: number
}

/** One address of a name server, with what it was last seen to say of the zone as a whole. */
export interface ServerSeen {
  label: string
  address: string
  status: Observation['status']
  serial: number | undefined
  /** Its serial lies before that of the primary, or the newest where that is not among the servers. */
  isBehind: boolean
  /** Since when it says the same; milliseconds. */
  since: number
}

/** What each address of a zone's name servers was last seen to say, by its SOA; those never asked are left out. */
export function serversSeen(servers: readonly ZoneServer[], latest: readonly Observation[]): ServerSeen[] {
  const asked = askedFor(servers, latest)
  const newest = newestSerial(asked)
  return asked.map(({ label, address, seen }) => {
    const serial = seen.status === 'answered' ? soaOf(seen).serial : undefined
    const isBehind = serial !== undefined && newest !== undefined && compareSerials(serial, newest) === -1
    return { label, address, status: seen.status, serial, isBehind, since: seen.firstAt }
  })
}

interface Asked {
  server: ZoneServer
  address: string
  label: string
  /** Its answer for the SOA. */
  seen: Observation
}

const askedFor = (servers: readonly ZoneServer[], latest: readonly Observation[]): Asked[] =>
  servers.flatMap((server) =>
    server.addresses.flatMap((address) => {
      const label = serverLabel(server, address)
      const seen = latest.find((each) => each.role === 'authority' && each.server === label && each.type === 'SOA')
      return seen ? [{ server, address, label, seen }] : []
    }),
  )

/** The primary's serial, or the newest where the primary is not among the servers. */
function newestSerial(asked: readonly Asked[]): number | undefined {
  let best: number | undefined
  for (const { server, seen } of asked) {
    if (seen.status !== 'answered') continue
    const { serial, primary } = soaOf(seen)
    if (primary === `${server.name}.`) return serial
    if (best === undefined || compareSerials(best, serial) === -1) best = serial
  }
  return best
}

export interface ServersInput {
  origin: DnsName
  servers: readonly ZoneServer[]
  /** The latest answer of each server to each question; of the SOA at each of its addresses. */
  latest: readonly Observation[]
  /** Every serial seen of late, at whatever server. */
  serials: readonly SerialRun[]
  now: number
}

/** A secondary that asks its primary again only now and then gets so long before it is called behind; milliseconds. */
const MAX_GRACE_MS = 300_000
const MIN_GRACE_MS = 15_000

const soaOf = (seen: Observation) =>
  readSoa({ name: seen.name, type: 'SOA', ttl: seen.ttl ?? 0, data: seen.data[0] ?? '' })
/** Seen at two looks at least: one answer lost on the way is no fault of a server. */
const lasts = (seen: Observation) => seen.at > seen.firstAt

/**
 * What is wrong with a zone's name servers themselves, by their answers for its SOA: dead, failing, expired or behind,
 * or reached over IPv6 alone. Nothing is said where nobody answers at all, resolvers included: then it is we who are
 * cut off.
 */
export function findServerTroubles({ origin, servers, latest, serials, now }: ServersInput): DomainTrouble[] {
  const zone = hostOfName(origin)
  const found: DomainTrouble[] = []
  const cutOff = latest.every((seen) => seen.status === 'silent')
  if (cutOff || servers.length === 0) return found
  const asked = askedFor(servers, latest)
  const answered = asked.filter(({ seen }) => seen.status === 'answered')
  const newest = newestSerial(asked)
  if (asked.length > 0 && answered.length === 0 && asked.every(({ seen }) => lasts(seen))) {
    const evidence = asked.map(({ label, seen }) => ({ label, text: words(seen), state: 'broken' as const }))
    const all = [...new Set(asked.map(({ server }) => server.name))]
    const since = Math.max(...asked.map(({ seen }) => seen.firstAt))
    return [
      {
        kind: 'no-server',
        cause: `zone ${zone}`,
        subject: zone,
        severity: 'broken',
        evidence,
        headline: 'No name server answers for the zone',
        sentence:
          `None of the name servers of ${zone} (${listed(all)}) answers for it since ${clockWords(since)}: as soon ` +
          'as resolvers forget what they hold, nobody finds the domain.',
      },
    ]
  }
  for (const one of asked) {
    if (one.seen.status === 'silent' && lasts(one.seen)) found.push(silent(one))
    if (one.seen.status === 'failed' && lasts(one.seen)) found.push(failing(one))
    if (one.seen.status === 'answered') found.push(...behind(one))
  }
  const families = new Set(servers.flatMap(({ addresses }) => addresses.map((each) => each.includes(':'))))
  if (families.size === 1 && families.has(true))
    found.push({
      kind: 'one-family',
      subject: zone,
      severity: 'doubtful',
      headline: 'Name servers reachable over IPv6 only',
      sentence:
        `No name server of ${zone} has an IPv4 address: resolvers without IPv6 find nothing of it (RFC 3901 §4 asks ` +
        'for one at least that is reached over IPv4).',
      evidence: servers.map(({ name, addresses }) => ({ label: name, text: addresses.join(', '), state: 'doubtful' })),
    })
  return found

  function silent({ server, address, label, seen }: Asked): DomainTrouble {
    const others = asked.filter((one) => one.server === server && one.address !== address)
    const elsewhere = others.find((one) => one.seen.status === 'answered')
    const family = address.includes(':') ? 'IPv6' : 'IPv4'
    return {
      kind: 'server-silent',
      subject: label,
      cause: `server ${server.name}`,
      severity: 'doubtful',
      headline: `The name server ${label} does not answer`,
      sentence:
        `${server.name} does not answer at ${address} since ${clockWords(seen.firstAt)}` +
        (elsewhere
          ? `, though it does at ${elsewhere.address}: resolvers that come over ${family} wait for it and then ask ` +
            'another.'
          : ': resolvers that ask it first wait a few seconds, then ask another.'),
      evidence: [{ label, text: words(seen), state: 'broken' }, ...standing(label)],
    }
  }

  function failing({ server, label, seen }: Asked): DomainTrouble {
    const known = answered[0] && soaOf(answered[0].seen)
    const isPrimary = known !== undefined && known.primary === `${server.name}.`
    const evidence: DomainTrouble['evidence'] = [{ label, text: words(seen), state: 'broken' }, ...standing(label)]
    // A server that had the zone, is not its primary, and fails for it, holds a copy that ran out (RFC 1035 §3.3.13).
    if (known && !isPrimary && seen.hadAnswered)
      return {
        kind: 'server-expired',
        subject: label,
        cause: `server ${server.name}`,
        severity: 'doubtful',
        headline: `The copy of the zone at ${label} has most likely expired`,
        sentence:
          `${label} gave the zone before and answers SERVFAIL for it since ${clockWords(seen.firstAt)}, as a ` +
          `secondary does that could not ask its primary, ${hostOfName(known.primary)}, for ` +
          `${spanWords(known.expire)} (EXPIRE in the SOA). See there whether it reaches its primary and may ` +
          'transfer the zone.',
        evidence,
      }
    return {
      kind: 'server-failing',
      subject: label,
      severity: 'doubtful',
      headline: `The name server ${label} fails (SERVFAIL)`,
      sentence:
        `${label} answers SERVFAIL for ${zone} since ${clockWords(seen.firstAt)}: it is meant to have the zone and ` +
        'cannot give it, as where its file has a fault or a first transfer failed. Its own log says which.',
      evidence,
    }
  }

  function behind({ label, seen }: Asked): DomainTrouble[] {
    const own = soaOf(seen)
    if (newest === undefined || compareSerials(own.serial, newest) !== -1) return []
    const newer = serials.filter((run) => compareSerials(own.serial, run.serial) === -1)
    const since = Math.max(seen.firstAt, Math.min(...newer.map((run) => run.firstAt), seen.at))
    const grace = Math.min(MAX_GRACE_MS, Math.max(MIN_GRACE_MS, own.refresh * 1000))
    if (now - since < grace) return []
    const count = (newest - own.serial + 2 ** 32) % 2 ** 32
    return [
      {
        kind: 'server-behind',
        subject: label,
        severity: 'doubtful',
        headline: `The name server ${label} is behind: serial ${own.serial} instead of ${newest}`,
        sentence:
          `${label} still gives the zone ${zone} with the serial ${own.serial}, ${count} behind ${newest}, since ` +
          `${clockWords(since)}: what was changed after that is not there. A secondary asks its primary every ` +
          `${spanWords(own.refresh)} (REFRESH); if it cannot for ${spanWords(own.expire)} (EXPIRE), it stops ` +
          'answering.',
        evidence: [{ label, text: `serial ${own.serial}`, state: 'broken' }, ...standing(label)],
      },
    ]
  }

  function standing(but: string): DomainTrouble['evidence'] {
    return asked
      .filter(({ label }) => label !== but)
      .map(({ label, seen }) => ({
        label,
        text: seen.status === 'answered' ? `serial ${soaOf(seen).serial}` : words(seen),
        state: seen.status === 'answered' ? 'sound' : 'broken',
      }))
  }
}

const words = ({ status }: Observation) =>
  status === 'answered' ? 'answers' : status === 'none' ? 'has no SOA' : STATUS_WORDS[status]
