import { readColumns, writeColumns } from './columns'
import type { Calendar } from './calendar'
import { QUARTER_MS, QUARTERS, type DayView } from './day-view'
import { VISIT_KINDS } from './kind'
import { HOURS } from './tally'
import { DIMENSIONS, type Dimension, type Vocabulary } from './words'

/** By what a day's visits are summed: all of them, each word of each dimension, and the hours of the week. */
export const SUMMED = ['all', 'repeats', 'hour', ...DIMENSIONS] as const
export type Summed = (typeof SUMMED)[number]

/** All domains together. */
const EVERY = 0

/** Sums of one kind of thing, one a row: word, domain and kind, with visits and people. */
export interface SumRows {
  codes: Uint32Array
  /** Numbers of domains; 0 for all together. */
  domains: Uint32Array
  /** Places in `VISIT_KINDS`. */
  kinds: Uint8Array
  visits: Uint32Array
  people: Uint32Array
}
/** What was counted of a day or a month. */
export type Sums = Record<Summed, SumRows>

/** Links, domains and rules belong to one domain at a time: of them there are sums over all domains only. */
const isSplit = (summed: Summed) => summed !== 'link' && summed !== 'domain' && summed !== 'rule'
const KINDS = VISIT_KINDS.length
const DAY_MS = 86_400_000

const sizeOf = (summed: Summed, vocabulary: Vocabulary) =>
  summed === 'all' || summed === 'repeats' ? 1 : summed === 'hour' ? HOURS : vocabulary.words(summed).size

/** Sums the visits of one day of the calendar, from the days (UTC) it has part in. */
export function sumDay(calendar: Calendar, day: number, views: readonly DayView[], vocabulary: Vocabulary): Sums {
  const domains = [EVERY, ...(vocabulary.words('domain').words as number[])]
  const masks = views.map((view) =>
    Uint8Array.from({ length: QUARTERS }, (_, quarter) =>
      calendar.dayAt(view.day * DAY_MS + quarter * QUARTER_MS) === day ? 1 : 0,
    ),
  )
  const sumsOf = (summed: Summed): SumRows => {
    const size = sizeOf(summed, vocabulary)
    const places = isSplit(summed) ? domains.length : 1
    const visits = new Uint32Array(places * KINDS * size)
    const people = new Uint32Array(places * KINDS * size)
    const last = new Uint32Array(places * KINDS * size)
    for (const [index, view] of views.entries()) {
      const mask = masks[index]!
      if (!mask.includes(1)) continue
      last.fill(0)
      const hours =
        summed === 'hour' &&
        Uint8Array.from({ length: QUARTERS }, (_, quarter) =>
          calendar.hourOfWeekAt(view.day * DAY_MS + quarter * QUARTER_MS),
        )
      const codes = summed === 'all' || summed === 'repeats' || summed === 'hour' ? undefined : view.codes[summed]
      const domainCodes = view.codes.domain
      const put = (place: number, visitor: number) => {
        visits[place]!++
        if (visitor === 0 || last[place] === visitor) return
        last[place] = visitor
        people[place]!++
      }
      for (let row = 0; row < view.length; row++) {
        const quarter = view.quarters[row]!
        if (!mask[quarter] || (summed === 'repeats' && !view.repeats[row])) continue
        const code = hours ? hours[quarter]! : codes ? codes[row]! : 0
        const kind = view.kinds[row]!
        put(kind * size + code, view.visitors[row]!)
        if (places > 1 && domains[domainCodes[row]! + 1] !== EVERY)
          put(((domainCodes[row]! + 1) * KINDS + kind) * size + code, view.visitors[row]!)
      }
    }
    return toRows(visits, people, size, domains)
  }
  return Object.fromEntries(SUMMED.map((summed) => [summed, sumsOf(summed)])) as Sums
}

function toRows(
  visits: ArrayLike<number>,
  people: ArrayLike<number>,
  size: number,
  domains: readonly number[],
): SumRows {
  const filled: number[] = []
  for (let place = 0; place < visits.length; place++) if (visits[place]! > 0) filled.push(place)
  return {
    codes: Uint32Array.from(filled, (place) => place % size),
    kinds: Uint8Array.from(filled, (place) => Math.floor(place / size) % KINDS),
    domains: Uint32Array.from(filled, (place) => domains[Math.floor(place / size / KINDS)]!),
    visits: Uint32Array.from(filled, (place) => visits[place]!),
    people: Uint32Array.from(filled, (place) => people[place]!),
  }
}

/** Sums of several days together: people of several days are those of each, summed. */
export function addSums(all: readonly Sums[], vocabulary: Vocabulary): Sums {
  const domains = [EVERY, ...(vocabulary.words('domain').words as number[])]
  const placeOf = new Map(domains.map((id, place) => [id, place]))
  return Object.fromEntries(
    SUMMED.map((summed) => {
      const size = sizeOf(summed, vocabulary)
      const places = isSplit(summed) ? domains.length : 1
      const visits = new Float64Array(places * KINDS * size)
      const people = new Float64Array(places * KINDS * size)
      for (const sums of all) {
        const rows = sums[summed]
        for (let row = 0; row < rows.codes.length; row++) {
          const place = (placeOf.get(rows.domains[row]!)! * KINDS + rows.kinds[row]!) * size + rows.codes[row]!
          visits[place]! += rows.visits[row]!
          people[place]! += rows.people[row]!
        }
      }
      return [summed, toRows(visits, people, size, domains)]
    }),
  ) as Sums
}

/** Octets that sums take in memory, roughly. */
export const octetsOfSums = (sums: Sums): number =>
  SUMMED.reduce((total, summed) => total + sums[summed].codes.length * 17, 0)

const MARK = 0x31735046 // “FPs1”

interface Head {
  lengths: Record<Summed, number>
  words: Partial<Record<Dimension, (string | number)[]>>
}

const isDimension = (summed: Summed): summed is Dimension => (DIMENSIONS as readonly string[]).includes(summed)
const COLUMNS = ['codes', 'domains', 'visits', 'people'] as const

/**
 * Sums as octets, the same whichever numbers a vocabulary gave to words: their words stand in order, and rows by
 * domain, kind and word.
 */
export function writeSums(sums: Sums, vocabulary: Vocabulary): Uint8Array {
  const head: Head = { lengths: {} as Head['lengths'], words: {} }
  const columns: (Uint8Array | Uint32Array)[] = []
  for (const summed of SUMMED) {
    const rows = sums[summed]
    let place = (code: number) => code
    if (isDimension(summed)) {
      const { words } = vocabulary.words(summed)
      const used = [...new Set(rows.codes)].sort((a, b) => compare(words[a]!, words[b]!))
      const places = new Map(used.map((code, at) => [code, at]))
      head.words[summed] = used.map((code) => words[code]!)
      place = (code) => places.get(code)!
    }
    const order = [...rows.codes.keys()].sort(
      (a, b) =>
        rows.domains[a]! - rows.domains[b]! ||
        rows.kinds[a]! - rows.kinds[b]! ||
        place(rows.codes[a]!) - place(rows.codes[b]!),
    )
    head.lengths[summed] = order.length
    columns.push(
      Uint32Array.from(order, (row) => place(rows.codes[row]!)),
      Uint32Array.from(order, (row) => rows.domains[row]!),
      Uint32Array.from(order, (row) => rows.visits[row]!),
      Uint32Array.from(order, (row) => rows.people[row]!),
      Uint8Array.from(order, (row) => rows.kinds[row]!),
    )
  }
  return writeColumns(MARK, head, columns)
}

const compare = (one: string | number, other: string | number) => (one < other ? -1 : one > other ? 1 : 0)

/** Reads sums back, in the numbers of a vocabulary; throws where the octets are none. */
export function readSums(given: Uint8Array, vocabulary: Vocabulary): Sums {
  const { head, take } = readColumns<Head>(MARK, given, 'sums of visits')
  return Object.fromEntries(
    SUMMED.map((summed) => {
      const length = head.lengths[summed]
      const rows = Object.fromEntries(COLUMNS.map((column) => [column, take(4, length)])) as unknown as SumRows
      rows.kinds = take(1, length)
      if (isDimension(summed)) {
        const words = vocabulary.words(summed)
        const codes = head.words[summed]!.map((word) => words.code(word))
        rows.codes = rows.codes.map((place) => codes[place]!)
        // Domains of the split must be known by their numbers as well.
        if (summed === 'domain') for (const word of head.words.domain!) words.code(word)
      }
      return [summed, rows]
    }),
  ) as Sums
}
