import { VISIT_KINDS } from './kind'
import { joinParts, type VisitPart } from './part'
import { DIMENSIONS, type Dimension, type Vocabulary } from './words'

/** Quarter-hours in a day. */
export const QUARTERS = 96
export const QUARTER_MS = 900_000
/** So soon after the one before, a visit of the same person to the same link is told apart (semantics §8). */
export const REPEAT_MS = 10_000

/**
 * So many referrers of a day are told apart, and so many words of all else: a stranger can make up any number of them.
 * What comes beyond is one.
 */
const MAX_WORDS = 2000
const MAX_REFERRERS = 20_000
const OTHERS = '(others)'

type Codes = Uint16Array | Uint32Array

/**
 * The visits of one day (UTC) as they are counted: by kind, of each kind by visitor, and of each visitor by time, with
 * words in the numbers of a vocabulary. Whoever counts different visitors of a kind need only look at the row before.
 */
export interface DayView {
  /** Whole days since the epoch, UTC. */
  day: number
  length: number
  quarters: Uint8Array
  /** Places in `VISIT_KINDS`. */
  kinds: Uint8Array
  /** Where the rows of each kind begin, and after the last where they end. */
  starts: Uint32Array
  /** 1 where the same person asked for the same link within ten seconds before. */
  repeats: Uint8Array
  /** Visitors, numbered from 1 within the day; 0 where nobody knows who. */
  visitors: Uint32Array
  codes: Record<Dimension, Codes>
}

/** Octets a view takes in memory, roughly. */
export const octetsOf = (view: DayView): number =>
  view.length * 7 + DIMENSIONS.reduce((sum, dimension) => sum + view.codes[dimension].byteLength, 0)

const VISIT = VISIT_KINDS.indexOf('visit')

/** Puts the parts of a day together as they are counted. */
export function toDayView(day: number, parts: readonly VisitPart[], vocabulary: Vocabulary): DayView {
  const part = parts.length === 1 ? parts[0]! : joinParts(day, parts)
  const { length } = part
  const visitors = numberVisitors(part)
  const kindPlaces = part.texts.kind.words.map((word) => Math.max(0, VISIT_KINDS.indexOf(word as never)))
  const kindOf = (row: number) => kindPlaces[part.texts.kind.codes[row]!]!
  const order = inOrder(part.numbers.time, visitors, kindOf)
  const pick = <Column extends Codes>(column: Column, from: Codes) => {
    for (let row = 0; row < length; row++) column[row] = from[order[row]!]!
    return column
  }
  const time = part.numbers.time
  const quarters = octets(length)
  for (let row = 0; row < length; row++) quarters[row] = Math.floor(time[order[row]!]! / QUARTER_MS)

  const codes = Object.fromEntries(
    DIMENSIONS.map((dimension) => [dimension, codesOf(part, dimension, vocabulary, order)]),
  ) as DayView['codes']
  const kinds = octets(length)
  const starts = new Uint32Array(VISIT_KINDS.length + 1)
  for (let row = 0; row < length; row++) starts[(kinds[row] = kindOf(order[row]!)) + 1]!++
  for (let kind = 0; kind < VISIT_KINDS.length; kind++) starts[kind + 1]! += starts[kind]!
  const sorted = pick(wide(length), visitors)
  const view: DayView = {
    day,
    length,
    quarters,
    kinds,
    starts,
    repeats: octets(length),
    visitors: sorted,
    codes,
  }
  markRepeats(view, pick(new Uint32Array(length), time))
  return view
}

// What is kept for long lies in memory that threads share: a second one counts its part of the days without a copy.
const octets = (length: number) => new Uint8Array(new SharedArrayBuffer(length))
const wide = (length: number) => new Uint32Array(new SharedArrayBuffer(length * 4))

/** Visitors by their tokens, numbered from 1 in the order they came; 0 without a token. */
function numberVisitors({ length, tokens }: VisitPart): Uint32Array {
  const known = new Map<number, number>()
  const visitors = new Uint32Array(length)
  const view = new DataView(tokens.buffer, tokens.byteOffset, tokens.byteLength)
  for (let row = 0; row < length; row++) {
    // 52 of 64 bits, which a number holds exactly: among a million visitors a day, two agree once in 9,000 days.
    const token = view.getUint32(row * 8, true) + (view.getUint32(row * 8 + 4, true) & 0xfffff) * 0x100000000
    if (token === 0) continue
    let visitor = known.get(token)
    if (visitor === undefined) known.set(token, (visitor = known.size + 1))
    visitors[row] = visitor
  }
  return visitors
}

/** Rows by kind, visitor and time: four steps of a sort by counting. */
function inOrder(time: Uint32Array, visitors: Uint32Array, kindOf: (row: number) => number): Uint32Array {
  const LOW = 14
  let order: Uint32Array = Uint32Array.from({ length: time.length }, (_, row) => row)
  order = byCounting(order, 1 << LOW, (row) => time[row]! & ((1 << LOW) - 1))
  order = byCounting(order, (86_400_000 >> LOW) + 1, (row) => time[row]! >> LOW)
  let most = 0
  for (const visitor of visitors) if (visitor > most) most = visitor
  order = byCounting(order, most + 1, (row) => visitors[row]!)
  return byCounting(order, VISIT_KINDS.length, kindOf)
}

function byCounting(order: Uint32Array, keys: number, keyOf: (row: number) => number): Uint32Array {
  const starts = new Uint32Array(keys + 1)
  for (const row of order) starts[keyOf(row) + 1]!++
  for (let key = 0; key < keys; key++) starts[key + 1]! += starts[key]!
  const sorted = new Uint32Array(order.length)
  for (const row of order) sorted[starts[keyOf(row)]!++] = row
  return sorted
}

/** Of these there are some hundreds, whatever strangers send; all else may be more than two octets tell apart. */
const NARROW: ReadonlySet<Dimension> = new Set(['domain', 'country', 'device'])
const NUMBERS = { link: 'linkId', domain: 'domainId', rule: 'ruleId' } as const

function codesOf(part: VisitPart, dimension: Dimension, vocabulary: Vocabulary, order: Uint32Array): Codes {
  const words = vocabulary.words(dimension)
  const { length } = part
  const codes = NARROW.has(dimension) ? new Uint16Array(new SharedArrayBuffer(length * 2)) : wide(length)
  if (dimension === 'link' || dimension === 'domain' || dimension === 'rule') {
    const ids = part.numbers[NUMBERS[dimension]]
    for (let row = 0; row < length; row++) codes[row] = words.code(ids[order[row]!]!)
    return codes
  }
  const { words: own, codes: from } = part.texts[dimension]
  const told = dimension === 'referrer' ? MAX_REFERRERS : MAX_WORDS
  const places = own.map((word, at) => words.code(at < told ? word : OTHERS))
  for (let row = 0; row < length; row++) codes[row] = places[from[order[row]!]!]!
  return codes
}

function markRepeats({ length, visitors, kinds, repeats, codes: { link: links } }: DayView, time: Uint32Array): void {
  const last = new Map<number, number>()
  for (let row = 0; row < length; row++) {
    if (visitors[row] === 0 || kinds[row] !== VISIT) continue
    if (row === 0 || visitors[row] !== visitors[row - 1]) last.clear()
    const alone = visitors[row] !== visitors[row - 1] && visitors[row] !== visitors[row + 1]
    if (alone) continue
    const before = last.get(links[row]!)
    if (before !== undefined && time[row]! - before <= REPEAT_MS) repeats[row] = 1
    last.set(links[row]!, time[row]!)
  }
}
