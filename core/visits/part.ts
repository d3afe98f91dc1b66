import { readColumns, writeColumns } from './columns'
import type { VisitEvent } from './event'

/** What of an event is kept as text: each part of raw visits has a dictionary for each of these. */
export const TEXT_COLUMNS = [
  'kind',
  'outcome',
  'path',
  'referrer',
  'country',
  'language',
  'device',
  'system',
  'browser',
  'mended',
  'channel',
  'network',
] as const
export type TextColumn = (typeof TEXT_COLUMNS)[number]

const NUMBER_COLUMNS = ['time', 'domainId', 'linkId', 'ruleId', 'status'] as const
type NumberColumn = (typeof NUMBER_COLUMNS)[number]

/** Text by its dictionary: the words, and for each event the place of its word among them. */
export interface Coded {
  words: string[]
  codes: Uint8Array | Uint16Array | Uint32Array
}

/** Raw visits of one day (UTC), column by column. */
export interface VisitPart {
  /** Whole days since the epoch, UTC. */
  day: number
  length: number
  /** `time` is milliseconds since the day began. */
  numbers: Record<NumberColumn, Uint32Array>
  texts: Record<TextColumn, Coded>
  /** Visitor tokens, eight octets each; zeros where there is none. */
  tokens: Uint8Array
}

const DAY_MS = 86_400_000
const TOKEN = 8
/** Longer paths are told apart by so many characters. */
const MAX_TEXT: Partial<Record<TextColumn, number>> = { path: 600, referrer: 255, system: 40, browser: 60 }
const USUAL_TEXT = 40

export const dayOf = (at: number): number => Math.floor(at / DAY_MS)

/** Puts events of one day (UTC) into columns. */
export function toPart(day: number, events: readonly VisitEvent[]): VisitPart {
  const length = events.length
  const number = (read: (event: VisitEvent) => number) => Uint32Array.from(events, read)
  const text = (column: TextColumn) => {
    const places = new Map<string, number>()
    const most = MAX_TEXT[column] ?? USUAL_TEXT
    const codes = new Uint32Array(length)
    for (let row = 0; row < length; row++) {
      const word = (events[row]![column] ?? '').slice(0, most)
      let place = places.get(word)
      if (place === undefined) places.set(word, (place = places.size))
      codes[row] = place
    }
    return { words: [...places.keys()], codes }
  }
  const tokens = new Uint8Array(length * TOKEN)
  for (let row = 0; row < length; row++) {
    const { visitor } = events[row]!
    for (let octet = 0; octet < TOKEN && octet * 2 < visitor.length; octet++)
      tokens[row * TOKEN + octet] = parseInt(visitor.slice(octet * 2, octet * 2 + 2), 16)
  }
  return {
    day,
    length,
    numbers: {
      time: number(({ at }) => at - day * DAY_MS),
      domainId: number(({ domainId }) => domainId),
      linkId: number(({ linkId }) => linkId),
      ruleId: number(({ ruleId }) => ruleId),
      status: number(({ status }) => status),
    },
    texts: Object.fromEntries(TEXT_COLUMNS.map((column) => [column, text(column)])) as VisitPart['texts'],
    tokens,
  }
}

/** Puts parts of one day together, in their order. */
export function joinParts(day: number, parts: readonly VisitPart[]): VisitPart {
  const length = parts.reduce((sum, part) => sum + part.length, 0)
  const number = (column: NumberColumn) => {
    const all = new Uint32Array(length)
    let at = 0
    for (const part of parts) {
      all.set(part.numbers[column], at)
      at += part.length
    }
    return all
  }
  const text = (column: TextColumn): Coded => {
    const places = new Map<string, number>()
    const codes = new Uint32Array(length)
    let at = 0
    for (const part of parts) {
      const { words, codes: own } = part.texts[column]
      const places_ = words.map((word) => {
        let place = places.get(word)
        if (place === undefined) places.set(word, (place = places.size))
        return place
      })
      for (let row = 0; row < part.length; row++) codes[at++] = places_[own[row]!]!
    }
    return { words: [...places.keys()], codes }
  }
  const tokens = new Uint8Array(length * TOKEN)
  let at = 0
  for (const part of parts) {
    tokens.set(part.tokens, at)
    at += part.tokens.length
  }
  return {
    day,
    length,
    numbers: Object.fromEntries(NUMBER_COLUMNS.map((column) => [column, number(column)])) as VisitPart['numbers'],
    texts: Object.fromEntries(TEXT_COLUMNS.map((column) => [column, text(column)])) as VisitPart['texts'],
    tokens,
  }
}

/** A part without the events that `drop` names by their row. */
export function withoutRows(part: VisitPart, drop: (row: number) => boolean): VisitPart {
  const kept: number[] = []
  for (let row = 0; row < part.length; row++) if (!drop(row)) kept.push(row)
  const rows = Uint32Array.from(kept)
  const tokens = new Uint8Array(rows.length * TOKEN)
  for (const [at, row] of rows.entries()) tokens.set(part.tokens.subarray(row * TOKEN, (row + 1) * TOKEN), at * TOKEN)
  return {
    day: part.day,
    length: rows.length,
    numbers: Object.fromEntries(
      NUMBER_COLUMNS.map((column) => [column, rows.map((row) => part.numbers[column][row]!)]),
    ) as VisitPart['numbers'],
    texts: Object.fromEntries(
      TEXT_COLUMNS.map((column) => {
        const { words, codes } = part.texts[column]
        return [column, { words, codes: rows.map((row) => codes[row]!) }]
      }),
    ) as VisitPart['texts'],
    tokens,
  }
}

/**
 * The events of a part as they were told, but for what is not kept of them; with `only` those of the links named, which
 * are picked before anything is made of the others.
 */
export function* eventsOf(part: VisitPart, only?: ReadonlySet<number>): Generator<VisitEvent> {
  const { numbers, texts, tokens } = part
  const word = (column: TextColumn, row: number) => texts[column].words[texts[column].codes[row]!]!
  for (let row = 0; row < part.length; row++) {
    if (only && !only.has(numbers.linkId[row]!)) continue
    const token = tokens.subarray(row * TOKEN, (row + 1) * TOKEN)
    yield {
      at: part.day * DAY_MS + numbers.time[row]!,
      domainId: numbers.domainId[row]!,
      linkId: numbers.linkId[row]!,
      ruleId: numbers.ruleId[row]!,
      status: numbers.status[row]!,
      kind: word('kind', row) as VisitEvent['kind'],
      outcome: word('outcome', row),
      path: word('path', row),
      referrer: word('referrer', row),
      mended: word('mended', row),
      channel: word('channel', row),
      network: word('network', row),
      country: word('country', row),
      language: word('language', row),
      device: word('device', row),
      system: word('system', row),
      browser: word('browser', row),
      visitor: token.some(Boolean) ? [...token].map((octet) => octet.toString(16).padStart(2, '0')).join('') : '',
      after: '',
      page: '',
    }
  }
}

const MARK = 0x31765046 // “FPv1”

interface Head {
  day: number
  length: number
  words: Record<TextColumn, string[]>
}

const widthFor = (words: number): 1 | 2 | 4 => (words <= 0x100 ? 1 : words <= 0x10000 ? 2 : 4)
const ARRAYS = { 1: Uint8Array, 2: Uint16Array, 4: Uint32Array } as const

/** A part as octets: a head with the dictionaries, then the columns (little-endian). */
export function writePart(part: VisitPart): Uint8Array {
  const head: Head = {
    day: part.day,
    length: part.length,
    words: Object.fromEntries(TEXT_COLUMNS.map((column) => [column, part.texts[column].words])) as Head['words'],
  }
  return writeColumns(MARK, head, [
    ...NUMBER_COLUMNS.map((column) => part.numbers[column]),
    ...TEXT_COLUMNS.map((column) => {
      const { words, codes } = part.texts[column]
      return ARRAYS[widthFor(words.length)].from(codes)
    }),
    part.tokens,
  ])
}

/** Reads a part back; throws where the octets are none. */
export function readPart(given: Uint8Array): VisitPart {
  const { head, take } = readColumns<Head>(MARK, given, 'part of visits')
  const { day, length, words } = head
  const numbers = Object.fromEntries(NUMBER_COLUMNS.map((column) => [column, take(4, length)])) as VisitPart['numbers']
  const texts = Object.fromEntries(
    TEXT_COLUMNS.map((column) => [
      column,
      { words: words[column], codes: take(widthFor(words[column].length), length) },
    ]),
  ) as VisitPart['texts']
  return { day, length, numbers, texts, tokens: take(1, length * TOKEN) }
}
