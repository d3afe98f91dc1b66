import { isAtOrBelow, parentOf, targetName, type DnsName } from '../../core/dns'
import type { KnownServer } from '../database/models/domain-watch'
import { ask } from './ask'
import type { NamesContext } from './context'

export interface Discovered {
  /** The zone a name lies in, by the SOA that answers for it. */
  origin: DnsName
  servers: KnownServer[]
}

/** So many addresses of one name server are asked. */
const MAX_ADDRESSES = 4

/**
 * Finds the zone a name lies in and its name servers' addresses, asking resolvers: the SOA of the name, or the one a
 * negative answer carries (RFC 2308 §3), then NS and the addresses. `undefined` where no resolver knows.
 */
export async function discover(
  names: NamesContext,
  name: DnsName,
  pace?: () => Promise<void>,
): Promise<Discovered | undefined> {
  for (const resolver of names.resolvers) {
    const origin = await zoneOf(resolver, name, pace)
    if (origin === undefined) continue
    const asked = await ask(resolver, origin, 'NS', { recursive: true, pace })
    if (!asked.ok) continue
    const servers: KnownServer[] = []
    for (const record of asked.message.answer) {
      if (record.type !== 'NS') continue
      const server = targetName(record)!
      const found: string[] = []
      for (const type of ['A', 'AAAA']) {
        const addresses = await ask(resolver, server, type, { recursive: true, pace })
        if (addresses.ok)
          found.push(...addresses.message.answer.filter((each) => each.type === type).map(({ data }) => data))
      }
      const [address, ...others] = found.slice(0, MAX_ADDRESSES)
      if (address) servers.push({ name: server.slice(0, -1), address, ...(others.length > 0 && { others }) })
    }
    if (servers.length > 0) return { origin, servers: servers.sort((a, b) => (a.name < b.name ? -1 : 1)) }
  }
  return undefined
}

async function zoneOf(
  resolver: { host: string; port: number },
  name: DnsName,
  pace?: () => Promise<void>,
): Promise<DnsName | undefined> {
  for (let at: DnsName | undefined = name; at !== undefined && at !== '.'; at = parentOf(at)) {
    const asked = await ask(resolver, at, 'SOA', { recursive: true, pace })
    if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN')) return undefined
    const soa = [...asked.message.answer, ...asked.message.authority].find((record) => record.type === 'SOA')
    if (soa && isAtOrBelow(name, soa.name)) return soa.name
  }
  return undefined
}
