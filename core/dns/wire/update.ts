import { recordSets, type DnsRecord } from '../record'
import type { DnsName } from '../name'
import { typesWhere } from '../record-types'
import type { Zone } from '../zone/zone'
import { CLASS, message, OPCODE, question, type DnsMessage, type WireRecord } from './message'

/** Types that keep a CNAME from standing at their name (RFC 2181 §10.1). */
const BESIDE_NO_CNAME = typesWhere(({ besideCname }) => !besideCname).filter(
  // NSEC3 stands at hashed names alone, and named fails at a question for it among prerequisites.
  (type) => type !== 'CNAME' && type !== 'NSEC3',
)

/** What to change in a zone at its server, record by record. */
export interface RecordChange {
  remove: readonly DnsRecord[]
  add: readonly DnsRecord[]
}

/** A set the update insists on: its data as it was read, or none. */
export interface Prerequisite {
  name: DnsName
  type: string
  data: string[]
}

/** The sets a change touches. */
export const touchedSets = (change: RecordChange): { name: DnsName; type: string }[] =>
  recordSets([...change.remove, ...change.add]).map(({ name, type }) => ({ name, type }))

/**
 * The sets that must be as they stand in the zone a change was made for: those it touches, and at each name that gets a
 * record those beside which it would be passed over in silence (§3.4.2.2): all other types for a CNAME, a CNAME for all
 * others. What a signer keeps by itself (RRSIG, NSEC, NSEC3) is no other data (RFC 4034 §3, §4).
 */
export function prerequisitesOf(zone: Zone, change: RecordChange): Prerequisite[] {
  const sets = new Map(touchedSets(change).map((set) => [`${set.name} ${set.type}`, set]))
  for (const { name, type } of touchedSets({ remove: [], add: change.add }))
    for (const other of type === 'CNAME' ? BESIDE_NO_CNAME : ['CNAME']) {
      const key = `${name} ${other}`
      if (!sets.has(key)) sets.set(key, { name, type: other })
    }
  return [...sets.values()].map(({ name, type }) => ({
    name,
    type,
    data: zone.set(name, type).map((record) => record.data),
  }))
}

/**
 * An update message (RFC 2136): for each of those sets a prerequisite that it is as we read it (§2.4.2) or does not
 * exist (§2.4.3), then the records to delete (§2.5.4) and to add (§2.5.1). All of it happens, or nothing. At names
 * `unsigned` the signatures of what goes are deleted too (§2.5.2), for servers that count them as other data.
 */
export function updateMessage(
  id: number,
  zone: Zone,
  change: RecordChange,
  unsigned: readonly DnsName[] = [],
): DnsMessage {
  const prerequisites = prerequisitesOf(zone, change).flatMap(({ name, type, data }): WireRecord[] =>
    data.length === 0
      ? [{ name, type, class: CLASS.NONE, ttl: 0, data: '' }]
      : data.map((each) => ({ name, type, class: CLASS.IN, ttl: 0, data: each })),
  )
  // A record that only gets another TTL is deleted and added; deletions come first.
  // An alias that takes another's place replaces it (§3.4.2.2).
  const replaced = new Set(change.add.filter(({ type }) => type === 'CNAME').map(({ name }) => name))
  const gone = change.remove.filter(({ name, type }) => type !== 'CNAME' || !replaced.has(name))
  const updates = [
    ...unsigned.flatMap((name) =>
      ['RRSIG', 'NSEC'].map((type): WireRecord => ({ name, type, class: CLASS.ANY, ttl: 0, data: '' })),
    ),
    ...gone.map((record): WireRecord => ({
      name: record.name,
      type: record.type,
      class: CLASS.NONE,
      ttl: 0,
      data: record.data,
    })),
    ...change.add.map((record): WireRecord => ({
      name: record.name,
      type: record.type,
      class: CLASS.IN,
      ttl: record.ttl,
      data: record.data,
    })),
  ]
  return message(id, {
    opcode: OPCODE.update,
    questions: [question(zone.origin, 'SOA')],
    answer: prerequisites,
    authority: updates,
  })
}
