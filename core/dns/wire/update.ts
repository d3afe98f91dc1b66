import { recordSets, type DnsRecord } from '../record'
import type { DnsName } from '../name'
import type { Zone } from '../zone/zone'
import { CLASS, message, OPCODE, question, type DnsMessage, type WireRecord } from './message'

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

/** The sets a change touches, as they stand in the zone it was made for. */
export function prerequisitesOf(zone: Zone, change: RecordChange): Prerequisite[] {
  return recordSets([...change.remove, ...change.add]).map(({ name, type }) => ({
    name,
    type,
    data: zone.set(name, type).map((record) => record.data),
  }))
}

/**
 * An update message (RFC 2136): for each set it touches a prerequisite that it is as we read it (§2.4.2) or does not
 * exist (§2.4.3), then the records to delete (§2.5.4) and to add (§2.5.1). All of it happens, or nothing.
 */
export function updateMessage(id: number, zone: Zone, change: RecordChange): DnsMessage {
  const prerequisites = prerequisitesOf(zone, change).flatMap(({ name, type, data }): WireRecord[] =>
    data.length === 0
      ? [{ name, type, class: CLASS.NONE, ttl: 0, data: '' }]
      : data.map((each) => ({ name, type, class: CLASS.IN, ttl: 0, data: each })),
  )
  // A record that only gets another TTL is deleted and added; deletions come first.
  const updates = [
    ...change.remove.map((record): WireRecord => ({
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
