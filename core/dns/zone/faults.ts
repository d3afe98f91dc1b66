import type { FindingKind, ZoneFinding } from '../domain/findings'
import { hostOfName, isAtOrBelow, type DnsName } from '../name'
import { recordSets, targetName, type DnsRecord } from '../record'
import { typesWhere } from '../record-types'
import { lookup } from './lookup'
import type { ZoneFile } from './read'
import { delegationOf, makeZone, type Zone } from './zone'

/** Types that may stand beside a CNAME (RFC 4035 §2.5). */
const BESIDE_CNAME = new Set<string>(['CNAME', ...typesWhere(({ besideCname }) => besideCname)])

/**
 * What is wrong with a zone in itself. Fatal are the faults for which name servers refuse to load it (RFC 1034
 * §3.6.2, RFC 2181 §10.1, §10.3, RFC 1912 §2.4); the rest loads and makes people suffer all the same.
 */
export function zoneFaults(file: ZoneFile, zone: Zone = makeZone(file.origin, file.records)): ZoneFinding[] {
  const found: ZoneFinding[] = []
  const add = (severity: ZoneFinding['severity'], kind: FindingKind, name: DnsName, type: string, sentence: string) =>
    found.push({ kind, severity, name, type, sentence })
  const { origin } = zone
  const partial = file.partial === true || file.notes.length > 0
  const apex = hostOfName(origin)

  const soas = zone.set(origin, 'SOA')
  if (soas.length === 0 && !partial)
    add('fatal', 'no-soa', origin, 'SOA', `The zone ${apex} has no SOA record at its top; name servers refuse it.`)
  if (soas.length > 1)
    add(
      'fatal',
      'several-soa',
      origin,
      'SOA',
      `The zone ${apex} has ${soas.length} SOA records; it must have exactly one.`,
    )
  for (const soa of zone.records)
    if (soa.type === 'SOA' && soa.name !== origin)
      add(
        'fatal',
        'soa-elsewhere',
        soa.name,
        'SOA',
        `A SOA record stands at ${hostOfName(soa.name)}; it belongs at the top of the zone, ${apex}, only.`,
      )
  if (zone.set(origin, 'NS').length === 0 && !partial)
    add('fatal', 'no-ns', origin, 'NS', `The zone ${apex} has no NS records at its top; name servers refuse it.`)

  for (const set of recordSets(zone.records)) {
    const host = hostOfName(set.name)
    const below = delegationOf(zone, set.name)
    if (below !== undefined && below !== set.name) continue // Glue: not this zone's own data.
    const seen: Seen = { zone, partial }
    if (set.type === 'CNAME') faultsOfAlias(seen, set.records, add)
    if (set.type === 'NS') faultsOfNs(seen, set.records, add)
    if (set.type === 'MX') faultsOfMx(seen, set.records, add)
    const ttls = [...new Set(set.records.map((record) => record.ttl))]
    // Each signature has the TTL of what it signs (RFC 4034 §3).
    if (ttls.length > 1 && set.type !== 'RRSIG')
      add(
        'warning',
        'mixed-ttls',
        set.name,
        set.type,
        `The ${set.type} records of ${host} have different TTLs (${ttls.join(', ')} s); a set has one TTL ` +
          '(RFC 2181 §5.2), and servers will take one of them.',
      )
  }
  for (const entry of file.entries) {
    if (entry.outside)
      add(
        'warning',
        'out-of-zone',
        entry.record!.name,
        entry.record!.type,
        `Line ${entry.line}: ${hostOfName(entry.record!.name)} lies outside ${apex}; name servers leave ` +
          `this ${entry.record!.type} record out, and so does Fides.`,
      )
  }
  for (const note of file.notes) add('warning', 'not-seen', origin, '', note.sentence)
  if (zone.records.some((record) => record.type === 'DNSKEY' || record.type === 'RRSIG'))
    add(
      'notice',
      'signed-zone',
      origin,
      'DNSKEY',
      `The zone ${apex} is signed (DNSSEC). A name server that signs automatically, as dynamic updates need, ` +
        'needs nothing more after a change; a file that is signed by hand must be signed again, or resolvers that ' +
        'check signatures refuse the new answers.',
    )
  return found
}

type Add = (severity: ZoneFinding['severity'], kind: FindingKind, name: DnsName, type: string, sentence: string) => void

/** A zone, and whether only some of its names are known: then nothing is said of what may stand at the others. */
interface Seen {
  zone: Zone
  partial: boolean
}

function faultsOfAlias({ zone, partial }: Seen, aliases: readonly DnsRecord[], add: Add): void {
  const [alias] = aliases
  const { name } = alias!
  const host = hostOfName(name)
  const others = [...new Set(zone.at(name).map((record) => record.type))].filter((type) => !BESIDE_CNAME.has(type))
  if (aliases.length > 1)
    add(
      'fatal',
      'several-cnames',
      name,
      'CNAME',
      `${host} has ${aliases.length} CNAME records; a name can be an alias of one other name only.`,
    )
  if (name === zone.origin)
    add(
      'fatal',
      'cname-at-apex',
      name,
      'CNAME',
      `${host} is the top of its zone and has a CNAME; SOA and NS must stand there, and no CNAME can stand ` +
        'beside them.',
    )
  else if (others.length > 0)
    add(
      'fatal',
      'cname-and-other',
      name,
      'CNAME',
      `${host} has a CNAME beside ${others.join(', ')}; an alias can have no other data.`,
    )
  const target = targetName(alias!)!
  if (target === name)
    return add(
      'warning',
      'self-cname',
      name,
      'CNAME',
      `${host} is an alias for the same name, so resolvers get no answer.`,
    )
  const seen = new Set([name])
  let at: DnsName | undefined = target
  while (at !== undefined && !seen.has(at)) {
    seen.add(at)
    const [next]: readonly DnsRecord[] = zone.set(at, 'CNAME')
    at = next && targetName(next)
  }
  if (at !== undefined)
    return add(
      'warning',
      'cname-loop',
      name,
      'CNAME',
      `${host} is an alias that leads back to ${hostOfName(at)}; nobody gets an answer.`,
    )
  if (!partial && isAtOrBelow(target, zone.origin) && lookup(zone, target, 'A').rcode === 'NXDOMAIN') {
    add(
      'warning',
      'dangling-cname',
      name,
      'CNAME',
      `${host} is an alias of ${hostOfName(target)}, which does not exist.`,
    )
  }
}

/** Whether a name of this zone gets an address by the lookup algorithm; `undefined` where another zone decides. */
function hasAddress({ zone, partial }: Seen, name: DnsName): boolean | undefined {
  if (!isAtOrBelow(name, zone.origin)) return undefined
  // Glue below a delegation counts: it is what servers hand out.
  if (zone.set(name, 'A').length + zone.set(name, 'AAAA').length > 0) return true
  if (partial || delegationOf(zone, name) !== undefined) return undefined
  return ['A', 'AAAA'].some((type) => lookup(zone, name, type).answer.some((record) => record.type === type))
}
const isAlias = ({ zone, partial }: Seen, name: DnsName) =>
  isAtOrBelow(name, zone.origin) &&
  delegationOf(zone, name) === undefined &&
  (partial ? zone.set(name, 'CNAME') : lookup(zone, name, 'CNAME').answer).length > 0

function faultsOfNs(seen: Seen, records: readonly DnsRecord[], add: Add): void {
  for (const record of records) {
    const server = targetName(record)!
    const [host, owner] = [hostOfName(server), hostOfName(record.name)]
    const severity = record.name === seen.zone.origin ? 'fatal' : 'warning'
    if (isAlias(seen, server))
      add(
        severity,
        'ns-to-cname',
        record.name,
        'NS',
        `The name server ${host} of ${owner} is an alias; an NS record must lead to a name with addresses ` +
          '(RFC 2181 §10.3).',
      )
    else if (hasAddress(seen, server) === false)
      add(
        severity,
        'ns-without-address',
        record.name,
        'NS',
        `The name server ${host} of ${owner} has no address in this zone.`,
      )
  }
}

function faultsOfMx(seen: Seen, records: readonly DnsRecord[], add: Add): void {
  for (const record of records) {
    const server = targetName(record)!
    if (server === '.') continue // "Null MX" (RFC 7505): no mail is wanted.
    const [host, owner] = [hostOfName(server), hostOfName(record.name)]
    if (isAlias(seen, server))
      add(
        'warning',
        'mx-to-cname',
        record.name,
        'MX',
        `The mail server ${host} of ${owner} is an alias; an MX record must lead to a name with addresses ` +
          '(RFC 2181 §10.3).',
      )
    else if (hasAddress(seen, server) === false)
      add(
        'warning',
        'mx-without-address',
        record.name,
        'MX',
        `The mail server ${host} of ${owner} has no address in this zone; mail cannot be delivered to it.`,
      )
  }
}
