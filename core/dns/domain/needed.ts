import { judgeCaa, type CaaVerdict } from '../caa'
import { hostOfName, isAtOrBelow, type DnsName } from '../name'
import type { DnsRecord } from '../record'
import { typesWhere } from '../record-types'
import { lookup, wildcardFor } from '../zone/lookup'
import type { Zone } from '../zone/zone'
import { NEW_TTL, proofData, proofName, type GatewayFacts } from './facts'

/** The records a domain needs, and those at its name that go for them. */
export interface Needed {
  /** A CNAME leads to the gateway's name; addresses stand where a CNAME cannot. */
  use: 'cname' | 'addresses'
  why: string
  pointing: DnsRecord[]
  proof: DnsRecord
  /** A CAA record that lets the issuer in, where one is needed and can be placed in this zone. */
  caa: DnsRecord | undefined
  caaVerdict: CaaVerdict
  replaced: DnsRecord[]
  /** The wildcard that answers for the name today, which any record at or below the name ends (RFC 4592 §2.2). */
  wildcard: DnsName | undefined
  /** What it says of where the name's visitors go, as records of the name; resolvers hold these for their TTL. */
  throughWildcard: DnsRecord[]
}

/** Types at a name that say where its web visitors go; the rest is kept. */
const POINTING = new Set<string>(typesWhere(({ points }) => points))

/** What a zone's signer keeps at every name (RFC 4034 §3, §4), which stands beside a CNAME too. */
const SIGNED = new Set<string>(typesWhere(({ besideCname }) => besideCname))

/** The CAA question as an issuer asks it, answered from a zone. */
export const caaFrom = (zone: Zone) => (name: DnsName) =>
  isAtOrBelow(name, zone.origin) ? lookup(zone, name, 'CAA').answer.filter((record) => record.type === 'CAA') : []

/**
 * Works out which records a name needs so that its visitors reach the gateway. The zone's apex cannot hold a CNAME,
 * as it holds SOA and NS (RFC 1034 §3.6.2, RFC 2181 §10.1, RFC 1912 §2.4); nor can a name that holds anything kept.
 */
export function neededRecords(zone: Zone, name: DnsName, token: string, gateway: GatewayFacts): Needed {
  const here = zone.at(name)
  const kept = here.filter((record) => !POINTING.has(record.type) && !SIGNED.has(record.type))
  const atApex = name === zone.origin
  const caaVerdict = judgeCaa(name, gateway.issuers, caaFrom(zone))
  const isShutOut = !caaVerdict.allowed && gateway.issuers.length > 0
  const hasAddresses = gateway.ipv4.length + gateway.ipv6.length > 0
  const [use, why] = choose()
  const record = (type: string, data: string): DnsRecord => ({ name, type, ttl: NEW_TTL, data })
  const pointing =
    use === 'cname'
      ? [record('CNAME', gateway.name!)]
      : [
          ...gateway.ipv4.map((address) => record('A', address)),
          ...gateway.ipv6.map((address) => record('AAAA', address)),
        ]
  const wanted = new Set(pointing.map((wish) => `${wish.type} ${wish.data}`))
  const wildcard = wildcardFor(zone, name)
  return {
    use,
    why,
    pointing,
    proof: { name: proofName(name), type: 'TXT', ttl: NEW_TTL, data: proofData(token) },
    caa: isShutOut ? letIn(caaVerdict) : undefined,
    caaVerdict,
    replaced: here.filter((old) => POINTING.has(old.type) && !wanted.has(`${old.type} ${old.data}`)),
    wildcard,
    throughWildcard:
      wildcard === undefined
        ? []
        : zone
            .at(wildcard)
            .filter(({ type }) => POINTING.has(type))
            .map((record) => ({ ...record, name })),
  }

  function choose(): ['cname' | 'addresses', string] {
    const host = hostOfName(name)
    if (atApex)
      return [
        'addresses',
        `${host} is the top of its zone, where SOA and NS stand; a CNAME cannot stand beside them (RFC ` +
          '1034 §3.6.2), so it takes address records.',
      ]
    if (kept.length > 0) {
      const types = [...new Set(kept.map((old) => old.type))].join(' and ')
      return [
        'addresses',
        `${host} holds ${types} records, beside which no CNAME can stand (RFC 2181 §10.1); address records keep them.`,
      ]
    }
    if (gateway.name === undefined)
      return ['addresses', 'This installation has no name for a CNAME to point to, so the addresses are used.']
    if (isShutOut && caaVerdict.owner !== name && hasAddresses)
      return [
        'addresses',
        `A CAA record at ${host} lets our issuer in there and nowhere else in the zone (RFC 8659 §3); beside one no ` +
          'CNAME can stand (RFC 2181 §10.1), so it takes address records.',
      ]
    return [
      'cname',
      `${host} lies below the top of its zone and holds nothing else, so a CNAME to the gateway’s name is ` +
        'best: it follows when the gateway’s addresses change.',
    ]
  }

  /**
   * Lets the issuer in at the name that needs it, so that the rest of the zone stays as it is. Where a CNAME leaves no
   * place there, or the set stands at the name itself, that set gets one record more.
   */
  function letIn({ owner, records }: CaaVerdict): DnsRecord | undefined {
    const data = `0 issue "${gateway.issuers[0]}"`
    if (use === 'addresses' && owner !== name) return { name, type: 'CAA', ttl: NEW_TTL, data }
    if (!isAtOrBelow(owner!, zone.origin)) return undefined
    return { name: owner!, type: 'CAA', ttl: records[0]!.ttl, data }
  }
}
