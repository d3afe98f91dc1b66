import { readData } from '../data'
import { isAtOrBelow, readName, type DnsName } from '../name'
import type { DnsRecord } from '../record'
import { DataFault, type Token } from '../token'
import { MAX_TTL, readTtl } from '../ttl'
import { readType } from '../types'
import { scan, type Scanned } from './scan'
import { atOnce } from './steps'

/** One entry of a master file, with what it means. */
export interface FileEntry {
  start: number
  end: number
  line: number
  record?: DnsRecord
  /** The record lies outside the zone: it is kept in the file and left out of the zone, as servers do. */
  outside?: boolean
  /** The owner is that of the record before. */
  blankOwner?: boolean
  /** The TTL is that of the record before (RFC 1035 §5.1), where no $TTL says otherwise. */
  inheritedTtl?: boolean
  ttlToken?: Token
  /** The words of the data. */
  dataTokens?: Token[]
}

export interface LineFault {
  line: number
  sentence: string
}

/** A master file as read: its text, whole, and what each entry means. */
export interface ZoneFile {
  origin: DnsName
  text: string
  entries: FileEntry[]
  records: DnsRecord[]
  /** Lines that cannot be read. A file with one is not to be trusted. */
  faults: LineFault[]
  /** Lines kept as they are whose records are not seen, such as $INCLUDE. */
  notes: LineFault[]
  /** Only some names of the zone are in it: what is missing may stand at the name servers all the same. */
  partial?: boolean
}

/** After this many faults reading stops: the file is of another kind, or was damaged on its way. */
export const MAX_FAULTS = 50
/** Entries read between two places where others may have their turn. */
const STEP = 200

interface State {
  origin: DnsName
  owner: DnsName | undefined
  /** From $TTL (RFC 2308 §4). */
  defaultTtl: number | undefined
  lastTtl: number | undefined
}

/**
 * Reads a master file (RFC 1035 §5, $TTL of RFC 2308 §4) given as one character an octet. `origin` is the zone's name,
 * where the file does not begin with $ORIGIN. Never throws: what cannot be read is told by line, and reading stops
 * after `MAX_FAULTS` of them.
 */
export const readZone = (text: string, origin: DnsName): ZoneFile => atOnce(readZoneInSteps(text, origin))

/** Reads as `readZone` does, and yields now and then so that others may have their turn. */
export function* readZoneInSteps(text: string, origin: DnsName): Generator<undefined, ZoneFile> {
  const file: ZoneFile = { origin, text, entries: [], records: [], faults: [], notes: [] }
  const state: State = { origin, owner: undefined, defaultTtl: undefined, lastTtl: undefined }
  const fault = (line: number, words: string) => file.faults.push({ line, sentence: `Line ${line}: ${words}.` })
  for (const scanned of scan(text)) {
    if (file.faults.length === MAX_FAULTS) return file
    const entry: FileEntry = { start: scanned.start, end: scanned.end, line: scanned.line }
    file.entries.push(entry)
    if (file.entries.length % STEP === 0) yield
    if (scanned.fault) {
      fault(scanned.line, scanned.fault)
      continue
    }
    if (scanned.tokens.length === 0) continue
    try {
      const first = scanned.tokens[0]!
      if (!scanned.blank && first.text.startsWith('$') && !first.quoted) readDirective(scanned, state, file)
      else readRecord(scanned, state, entry, file)
    } catch (error) {
      if (!(error instanceof DataFault)) throw error
      fault(scanned.line, error.message)
    }
  }
  return file
}

function readDirective({ tokens, line }: Scanned, state: State, file: ZoneFile): void {
  const [directive, value] = tokens
  const word = directive!.text.toUpperCase()
  if (word === '$ORIGIN') {
    if (!value) throw new DataFault('$ORIGIN needs a name')
    state.origin = wholeName(value.text, state.origin)
  } else if (word === '$TTL') {
    const ttl = value && readTtl(value.text)
    if (ttl === undefined || ttl > MAX_TTL)
      throw new DataFault('$TTL needs a number of seconds from 0 to 2,147,483,647, or a time like 1d')
    state.defaultTtl = ttl
  } else {
    file.notes.push({
      line,
      sentence:
        `Line ${line}: ${word.slice(0, 20)} is kept as it stands, but the records it would bring are not ` +
        'seen here.',
    })
  }
}

function wholeName(text: string, origin: DnsName): DnsName {
  const reading = readName(text, origin)
  if (!reading.ok) throw new DataFault(reading.sentence)
  return reading.name
}

function readRecord(scanned: Scanned, state: State, entry: FileEntry, file: ZoneFile): void {
  const tokens = [...scanned.tokens]
  let owner = state.owner
  if (scanned.blank) {
    if (owner === undefined) throw new DataFault('the first record has no name before it to share')
    entry.blankOwner = true
  } else owner = wholeName(tokens.shift()!.text, state.origin)
  // A faulty record still names the owner of those below it.
  state.owner = owner

  let ttl: number | undefined
  let typed: string | undefined
  // TTL and class come in either order, each at most once (RFC 1035 §5.1).
  for (let classSeen = false; typed === undefined;) {
    const token = tokens.shift()
    if (!token) throw new DataFault('a record needs a type and data')
    const word = token.text.toUpperCase()
    if (!classSeen && /^(?:IN|CH|HS|CS|ANY|NONE|CLASS\d+)$/.test(word)) {
      if (word !== 'IN' && word !== 'CLASS1')
        throw new DataFault(`class ${word} is not IN; a zone for the web holds IN records only`)
      classSeen = true
    } else if (ttl === undefined && readTtl(word) !== undefined && readType(word) === undefined) {
      ttl = readTtl(word)!
      entry.ttlToken = token
    } else {
      typed = readType(word)
      if (typed === undefined) throw new DataFault(`“${token.text.slice(0, 40)}” is no record type`)
    }
  }
  if (ttl !== undefined && ttl > MAX_TTL) throw new DataFault(`the TTL ${ttl} is over 2,147,483,647 seconds`)
  const data = readData(typed, tokens, state.origin)
  entry.inheritedTtl = ttl === undefined && state.defaultTtl === undefined
  // Without $TTL and without a TTL before it, the SOA's MINIMUM stands in (RFC 1035 §3.3.13, as it was before RFC
  // 2308).
  ttl ??= state.defaultTtl ?? state.lastTtl ?? (typed === 'SOA' ? Number(data.split(' ').at(-1)) : undefined)
  if (ttl === undefined) throw new DataFault('no TTL is known for this record; begin the file with $TTL')
  state.lastTtl = ttl
  entry.dataTokens = tokens
  entry.record = { name: owner!, type: typed, ttl, data }
  if (isAtOrBelow(owner!, file.origin)) file.records.push(entry.record)
  else entry.outside = true
}
