import {
  addToSerial,
  lookup,
  makeZone,
  readSoa,
  withSerial,
  type DnsName,
  type DnsRecord,
  type LookupAnswer,
  type Zone,
} from '../../core/dns'
import { CLASS, typeIsAny, type DnsMessage, type Rcode, type WireRecord } from '../../core/dns/wire'

/** The zones one stand-in name server holds. */
export class ZoneStore {
  private readonly zones = new Map<DnsName, Zone>()

  put(origin: DnsName, records: Iterable<DnsRecord>): void {
    this.zones.set(origin, makeZone(origin, records))
  }
  get(origin: DnsName): Zone | undefined {
    return this.zones.get(origin)
  }
  get origins(): DnsName[] {
    return [...this.zones.keys()]
  }

  /** The zone that lies closest above a name. */
  closest(name: DnsName): Zone | undefined {
    let best: Zone | undefined
    for (const zone of this.zones.values()) {
      if (
        (name === zone.origin || zone.origin === '.' || name.endsWith('.' + zone.origin)) &&
        zone.origin.length >= (best?.origin.length ?? 0)
      )
        best = zone
    }
    return best
  }

  /** Answers as a name server with these zones does; follows aliases from one of its zones into another. */
  answer(name: DnsName, type: string): LookupAnswer | undefined {
    const zone = this.closest(name)
    return zone && lookup(zone, name, type)
  }

  /** Carries out an update (RFC 2136 §3), all of it or nothing; returns the response code. */
  update(given: DnsMessage): Rcode {
    const origin = given.questions[0]?.name
    const zone = origin === undefined ? undefined : this.zones.get(origin)
    if (!zone) return 'NOTAUTH'
    const fault = unmet(zone, given.answer)
    if (fault) return fault
    let records: DnsRecord[] = [...zone.records]
    for (const change of given.authority) {
      if (change.name !== zone.origin && !change.name.endsWith('.' + zone.origin)) return 'NOTZONE'
      records = apply(records, change, zone.origin)
    }
    const changed =
      records.length !== zone.records.length || records.some((record, index) => record !== zone.records[index])
    this.put(zone.origin, changed ? advance(records) : records)
    return 'NOERROR'
  }
}

/** RFC 2136 §3.2: the first prerequisite that does not hold. */
function unmet(zone: Zone, prerequisites: readonly WireRecord[]): Rcode | undefined {
  const sets = new Map<string, { name: DnsName; type: string; data: string[] }>()
  for (const { name, type, class: kind, data } of prerequisites) {
    const any = typeIsAny(type)
    if (kind === CLASS.ANY && (any ? zone.at(name).length === 0 : zone.set(name, type).length === 0))
      return any ? 'NXDOMAIN' : 'NXRRSET'
    if (kind === CLASS.NONE && (any ? zone.at(name).length > 0 : zone.set(name, type).length > 0))
      return any ? 'YXDOMAIN' : 'YXRRSET'
    if (kind === CLASS.IN) {
      const set = sets.get(`${name} ${type}`) ?? { name, type, data: [] }
      set.data.push(data)
      sets.set(`${name} ${type}`, set)
    }
  }
  for (const { name, type, data } of sets.values()) {
    const there = zone.set(name, type).map((record) => record.data)
    if ([...there].sort().join('\n') !== [...data].sort().join('\n')) return 'NXRRSET'
  }
  return undefined
}

/** RFC 2136 §3.4.2. */
function apply(records: DnsRecord[], change: WireRecord, origin: DnsName): DnsRecord[] {
  const { name, type, class: kind, ttl, data } = change
  const protectedHere = (record: DnsRecord) => record.name === origin && (record.type === 'SOA' || record.type === 'NS')
  if (kind === CLASS.ANY)
    return records.filter(
      (record) => record.name !== name || (!typeIsAny(type) && record.type !== type) || protectedHere(record),
    )
  if (kind === CLASS.NONE) {
    const lastNs =
      type === 'NS' &&
      name === origin &&
      records.filter((record) => record.name === origin && record.type === 'NS').length === 1
    return records.filter(
      (record) =>
        record.type === 'SOA' || lastNs || record.name !== name || record.type !== type || record.data !== data,
    )
  }
  const others = records.filter((record) => record.name === name)
  const aliased = others.some((record) => record.type === 'CNAME')
  // A CNAME beside other data, or other data beside a CNAME, is passed over in silence (§3.4.2.2).
  if (type === 'CNAME' ? others.some((record) => record.type !== 'CNAME') : aliased) return records
  const kept = records.filter(
    (record) =>
      !(record.name === name && record.type === type && (record.data === data || type === 'CNAME' || type === 'SOA')),
  )
  return [
    ...kept.map((record) => (record.name === name && record.type === type ? { ...record, ttl } : record)),
    { name, type, ttl, data },
  ]
}

/** Advances the serial, as a server does after an update (RFC 2136 §3.6). */
function advance(records: DnsRecord[]): DnsRecord[] {
  return records.map((record) =>
    record.type === 'SOA' ? withSerial(record, addToSerial(readSoa(record).serial, 1)) : record,
  )
}
