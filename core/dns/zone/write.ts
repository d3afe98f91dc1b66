import { recordKey, recordLine, type DnsRecord } from '../record'
import type { DnsName } from '../name'
import type { FileEntry, ZoneFile } from './read'

/** What to change in a zone: record by record, whole sets being replaced by taking one and giving another. */
export interface ZoneChange {
  remove: readonly DnsRecord[]
  add: readonly DnsRecord[]
  /** The new serial of the SOA; left as it is where missing. */
  serial?: number
}

/** A zone's records as a master file in which every record stands in full; no comments. */
export function writeZone(origin: DnsName, records: readonly DnsRecord[]): string {
  const soaFirst = [
    ...records.filter((record) => record.type === 'SOA'),
    ...records.filter((record) => record.type !== 'SOA'),
  ]
  return `$ORIGIN ${origin}\n${soaFirst.map((record) => recordLine(record) + '\n').join('')}`
}

/**
 * Writes a master file with a change made in it. Every entry the change does not touch stays byte for byte, with its
 * comments and spelling; one that took its name or TTL from an entry that went is written in full, so that it keeps
 * its meaning. Added records follow the last record of their name, or come last.
 */
export function changeZone(file: ZoneFile, change: ZoneChange): string {
  const removed = new Set(change.remove.map(recordKey))
  const goes = (entry: FileEntry) =>
    entry.record !== undefined && !entry.outside && removed.has(recordKey(entry.record))
  const lastOf = new Map<DnsName, FileEntry>()
  for (const entry of file.entries) if (entry.record && !goes(entry)) lastOf.set(entry.record.name, entry)
  const following = new Map<FileEntry | undefined, DnsRecord[]>()
  for (const record of change.add) {
    const place = lastOf.get(record.name)
    following.set(place, [...(following.get(place) ?? []), record])
  }

  // Collected and joined once: asking a text that grows for its end would make this quadratic.
  const pieces: string[] = []
  let owner: DnsName | undefined
  let ttl: number | undefined
  const put = (piece: string) => {
    if (piece === '') return
    if (pieces.length > 0 && !pieces.at(-1)!.endsWith('\n')) pieces.push('\n')
    pieces.push(piece)
  }
  for (const entry of file.entries) {
    const { record } = entry
    if (!record) {
      put(file.text.slice(entry.start, entry.end))
      continue
    }
    if (goes(entry)) continue
    const keepsMeaning =
      (!entry.blankOwner || owner === record.name) &&
      (!entry.inheritedTtl || ttl === record.ttl || (ttl === undefined && record.type === 'SOA'))
    put(keepsMeaning ? entryText(file, entry, change.serial) : entryInFull(file, entry))
    owner = record.name
    ttl = record.ttl
    for (const added of following.get(entry) ?? []) {
      put(recordLine(added) + '\n')
      ttl = added.ttl
    }
  }
  for (const added of following.get(undefined) ?? []) put(recordLine(added) + '\n')
  return pieces.join('')
}

/** An entry as it stands; only a SOA's serial is put anew. */
function entryText(file: ZoneFile, entry: FileEntry, serial: number | undefined): string {
  if (entry.record!.type !== 'SOA' || serial === undefined) return file.text.slice(entry.start, entry.end)
  const token = entry.dataTokens![2]!
  return file.text.slice(entry.start, token.start) + serial + file.text.slice(token.end, entry.end)
}

function entryInFull(file: ZoneFile, entry: FileEntry): string {
  const last = entry.dataTokens!.at(-1)
  const behind = last ? file.text.slice(last.end, entry.end) : ''
  const comment = /^[ \t)]*(;[^\n]*)/.exec(behind)?.[1]
  return recordLine(entry.record!) + (comment ? ` ${comment}` : '') + '\n'
}
