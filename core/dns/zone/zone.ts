import { setKey, type DnsRecord } from '../record'
import { isAtOrBelow, parentOf, type DnsName } from '../name'
import { atOnce } from './steps'

/** A zone's records, ready to be asked. */
export interface Zone {
  origin: DnsName
  records: readonly DnsRecord[]
  /** The records of a name and type; empty where there are none. */
  set(name: DnsName, type: string): readonly DnsRecord[]
  /** Every record of a name. */
  at(name: DnsName): readonly DnsRecord[]
  /** Whether the name is there: it has records, or names below it have (RFC 4592 §2.2.2, empty non-terminals). */
  exists(name: DnsName): boolean
}

const NONE: readonly DnsRecord[] = []
/** Records taken in between two places where others may have their turn. */
const STEP = 500

/** Makes a zone of its records; those outside `origin` are left aside, as a server does, and doubles are dropped. */
export const makeZone = (origin: DnsName, input: Iterable<DnsRecord>): Zone => atOnce(makeZoneInSteps(origin, input))

/** Makes a zone as `makeZone` does, and yields now and then so that others may have their turn. */
export function* makeZoneInSteps(origin: DnsName, input: Iterable<DnsRecord>): Generator<undefined, Zone> {
  const sets = new Map<string, DnsRecord[]>()
  const names = new Map<DnsName, DnsRecord[]>()
  const there = new Set<DnsName>()
  const records: DnsRecord[] = []
  for (const record of input) {
    if (!isAtOrBelow(record.name, origin)) continue
    const key = setKey(record)
    const set = sets.get(key)
    if (set?.some((other) => other.data === record.data)) continue
    if (records.push(record) % STEP === 0) yield
    if (set) set.push(record)
    else sets.set(key, [record])
    const owned = names.get(record.name)
    if (owned) owned.push(record)
    else names.set(record.name, [record])
    for (
      let name: DnsName | undefined = record.name;
      name !== undefined && !there.has(name) && isAtOrBelow(name, origin);
      name = parentOf(name)
    )
      there.add(name)
  }
  return {
    origin,
    records,
    set: (name, type) => sets.get(`${name} ${type}`) ?? NONE,
    at: (name) => names.get(name) ?? NONE,
    exists: (name) => there.has(name),
  }
}

/**
 * Where the authority of a zone ends on the way down to a name: the first name below the origin that has NS records.
 */
export function delegationOf(zone: Zone, name: DnsName): DnsName | undefined {
  const above: DnsName[] = []
  for (let at: DnsName | undefined = name; at !== undefined && at !== zone.origin; at = parentOf(at)) above.unshift(at)
  return above.find((at) => zone.set(at, 'NS').length > 0)
}
