import { recordType } from './record-types'
import { relativeName, type DnsName } from './name'
import { splitData } from './text'

/** One resource record of class IN. */
export interface DnsRecord {
  name: DnsName
  type: string
  /** Seconds. */
  ttl: number
  /** The data in the presentation form of its type, with absolute names. */
  data: string
}

/** All records of one name and type (RFC 2181 §5). */
export interface RecordSet {
  name: DnsName
  type: string
  records: DnsRecord[]
}

/** What makes two records the same one: everything but the TTL (RFC 2181 §5.2). */
export const recordKey = (record: DnsRecord): string => `${record.name} ${record.type} ${record.data}`
/** What makes two records one set. */
export const setKey = (record: { name: DnsName; type: string }): string => `${record.name} ${record.type}`

/** Groups records into sets, in the order of their first record. */
export function recordSets(records: Iterable<DnsRecord>): RecordSet[] {
  const sets = new Map<string, RecordSet>()
  for (const record of records) {
    const key = setKey(record)
    const set = sets.get(key)
    if (set) set.records.push(record)
    else sets.set(key, { name: record.name, type: record.type, records: [record] })
  }
  return [...sets.values()]
}

/** The words of a record's data. */
export const dataWords = (record: DnsRecord): string[] => splitData(record.data)

/** The name a record leads to, for the types that lead to one. */
export function targetName(record: DnsRecord): DnsName | undefined {
  const place = recordType(record.type)?.target
  return place === undefined ? undefined : dataWords(record)[place]
}

/** The fields of a SOA record (RFC 1035 §3.3.13); times in seconds. */
export function readSoa(record: DnsRecord): {
  primary: DnsName
  mailbox: DnsName
  serial: number
  refresh: number
  retry: number
  expire: number
  minimum: number
} {
  const [primary, mailbox, ...numbers] = dataWords(record)
  const [serial, refresh, retry, expire, minimum] = numbers.map(Number)
  return {
    primary: primary!,
    mailbox: mailbox!,
    serial: serial!,
    refresh: refresh!,
    retry: retry!,
    expire: expire!,
    minimum: minimum!,
  }
}

/** A SOA record with another serial. */
export const withSerial = (soa: DnsRecord, serial: number): DnsRecord => ({
  ...soa,
  data: dataWords(soa)
    .map((word, index) => (index === 2 ? String(serial) : word))
    .join(' '),
})

/** How long "no such record" may be kept: the smaller of the SOA's TTL and its MINIMUM (RFC 2308 §5), in seconds. */
export const negativeTtl = (soa: DnsRecord): number => Math.min(soa.ttl, readSoa(soa).minimum)

/** A record as one line of a master file. */
export const recordLine = (record: DnsRecord): string =>
  `${record.name}\t${record.ttl}\tIN\t${record.type}\t${record.data}`

/** A record as a form at a provider asks for it: its name in the three usual ways. */
export function nameForms(name: DnsName, origin: DnsName): { relative: string; plain: string; absolute: string } {
  return { relative: relativeName(name, origin), plain: name.slice(0, -1), absolute: name }
}
