import type { Calendar } from './calendar'
import { QUARTER_MS, QUARTERS, type DayView } from './day-view'
import type { Dimension } from './words'

/** Hours in a week. */
export const HOURS = 168

/** By what visits are put together: the words of a dimension, groups of them, or hours of the week. */
export type Grouping =
  | { by: 'words'; dimension: Dimension; size: number }
  /** One group or none (-1) for each word. */
  | { by: 'groups'; dimension: Dimension; groupOf: Int32Array; size: number }
  /** Any number of groups for each word: those of word w stand from `starts[w]` to before `starts[w + 1]`. */
  | { by: 'sets'; dimension: Dimension; starts: Uint32Array; groups: Uint32Array; size: number }
  | { by: 'hours' }

/** Which visits are counted. */
export interface Selection {
  /** Milliseconds, at quarter-hours: from the one to before the other. */
  from: number
  to: number
  /** A place in `VISIT_KINDS`. */
  kind: number
  /** For each dimension named, 1 at the words that count. */
  filters: { dimension: Dimension; allowed: Uint8Array }[]
  /** 1 at the hours of the week that count. */
  hours?: Uint8Array
}

/** What was counted of some days. */
export interface Told {
  visits: number
  people: number
  repeats: number
  stepVisits: Float64Array
  stepPeople: Float64Array
  groups: Uint32Array
}

/** Days that a day (UTC) has part in, at most: days of zones begin and end within it. */
const MAX_DAYS = 4
/**
 * What is kept of a group lies together: visits, people, and for each of those days the visitor seen last. Visitors are
 * numbered on through all views, so that none need be forgotten between two.
 */
const STRIDE = 8
const LAST = 4

/**
 * Counts visits and people: of people, different visitors of each day of the calendar, summed over days (semantics §8).
 */
export class Tally {
  visits = 0
  people = 0
  repeats = 0
  readonly stepVisits: Float64Array
  readonly stepPeople: Float64Array
  private readonly groups: Uint32Array
  private readonly added: { visits: Float64Array; people: Float64Array }
  private stamp = 0
  private rows = new Uint32Array(0)
  private mine = new Int32Array(0)

  /** `starts` are the beginnings of the series' steps. */
  constructor(
    private readonly calendar: Calendar,
    private readonly selection: Selection,
    private readonly grouping: Grouping | undefined,
    private readonly starts: readonly number[],
  ) {
    const size = grouping === undefined ? 0 : grouping.by === 'hours' ? HOURS : grouping.size
    this.stepVisits = new Float64Array(starts.length)
    this.stepPeople = new Float64Array(starts.length)
    this.groups = new Uint32Array(size * STRIDE)
    this.added = { visits: new Float64Array(size), people: new Float64Array(size) }
  }

  /** Visits of each group. */
  groupVisits(): Float64Array {
    return this.added.visits.map((visits, group) => visits + this.groups[group * STRIDE]!)
  }
  groupPeople(): Float64Array {
    return this.added.people.map((people, group) => people + this.groups[group * STRIDE + 1]!)
  }

  /** What was counted, to be put to what another counted of other days. */
  told(): Told {
    const { visits, people, repeats, stepVisits, stepPeople } = this
    return { visits, people, repeats, stepVisits, stepPeople, groups: this.groups }
  }
  /** Takes in what another counted of other days (UTC), by the same selection and grouping. */
  take(told: Told): void {
    this.visits += told.visits
    this.people += told.people
    this.repeats += told.repeats
    for (let step = 0; step < this.stepVisits.length; step++) {
      this.stepVisits[step]! += told.stepVisits[step]!
      this.stepPeople[step]! += told.stepPeople[step]!
    }
    const { visits, people } = this.added
    for (let group = 0; group < visits.length; group++) {
      visits[group]! += told.groups[group * STRIDE]!
      people[group]! += told.groups[group * STRIDE + 1]!
    }
  }

  /** The step of the series a moment lies in; -1 before the first. */
  stepAt(at: number): number {
    let [low, high] = [0, this.starts.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.starts[middle]! <= at) low = middle + 1
      else high = middle
    }
    return low - 1
  }

  /** Counts the visits of one day (UTC), of its quarter-hours only those where `only` holds. */
  add(view: DayView, only: (at: number) => boolean = () => true): void {
    const { from, to, kind, filters, hours } = this.selection
    // Steps as they follow in this day alone: few, and so near at hand.
    const steps: number[] = []
    const stepOf = new Int32Array(QUARTERS).fill(-1)
    const dayOf = new Int32Array(QUARTERS)
    const hourOf = new Int32Array(QUARTERS)
    const firstDay = this.calendar.dayAt(view.day * 86_400_000)
    for (let quarter = 0; quarter < QUARTERS; quarter++) {
      const at = view.day * 86_400_000 + quarter * QUARTER_MS
      if (at < from || at >= to || !only(at)) continue
      hourOf[quarter] = this.calendar.hourOfWeekAt(at)
      if (hours && !hours[hourOf[quarter]!]) continue
      const step = this.stepAt(at)
      if (steps.at(-1) !== step) steps.push(step)
      stepOf[quarter] = steps.length - 1
      dayOf[quarter] = this.calendar.dayAt(at) - firstDay
    }
    if (steps.length === 0) return
    // Small loops, one after the other: each is compiled to what the machine does best.
    const rows = this.rowsOf(view.length)
    let count = rowsWithin(view.quarters, stepOf, view.starts[kind]!, view.starts[kind + 1]!, rows)
    for (const { dimension, allowed } of filters) count = rowsAllowed(view.codes[dimension], allowed, rows, count)
    const of: Counted = { rows, count, quarters: view.quarters, visitors: view.visitors, dayOf }
    const told = countSteps(of, stepOf, steps.length)
    for (const [at, step] of steps.entries()) {
      this.stepVisits[step]! += told.visits[at]!
      this.stepPeople[step]! += told.people[at]!
    }
    this.visits += count
    this.people += told.all
    for (let at = 0; at < count; at++) this.repeats += view.repeats[rows[at]!]!
    const { grouping } = this
    const base = this.stamp
    if (grouping?.by === 'sets') {
      countSets(of, view.codes[grouping.dimension], grouping, this.groups, base)
    } else if (grouping !== undefined) {
      const mine = this.groupsOf(view.length)
      if (grouping.by === 'hours') mapRows(view.quarters, hourOf, of, mine)
      else if (grouping.by === 'groups') mapRows(view.codes[grouping.dimension], grouping.groupOf, of, mine)
      else takeRows(view.codes[grouping.dimension], of, mine)
      countGroups(of, mine, this.groups, base)
    }
    this.stamp = base + told.most
  }

  private rowsOf(length: number): Uint32Array {
    return (this.rows = this.rows.length < length ? new Uint32Array(length) : this.rows)
  }
  private groupsOf(length: number): Int32Array {
    return (this.mine = this.mine.length < length ? new Int32Array(length) : this.mine)
  }

  /** Adds what was counted before, of one day or month. */
  addTotal(at: number, visits: number, people: number, repeats: number): void {
    const step = this.stepAt(at)
    this.visits += visits
    this.people += people
    this.repeats += repeats
    this.stepVisits[step]! += visits
    this.stepPeople[step]! += people
  }
  addGroup(group: number, visits: number, people: number): void {
    this.added.visits[group]! += visits
    this.added.people[group]! += people
  }
}

type Codes = Uint8Array | Uint16Array | Uint32Array

/** Rows of a view that count, and what is needed to count them. */
interface Counted {
  rows: Uint32Array
  count: number
  quarters: Uint8Array
  visitors: Uint32Array
  /** The day of the calendar of each quarter-hour, among those the view has part in. */
  dayOf: Int32Array
}

function rowsWithin(quarters: Uint8Array, stepOf: Int32Array, from: number, to: number, rows: Uint32Array): number {
  let count = 0
  for (let row = from; row < to; row++) if (stepOf[quarters[row]!] !== -1) rows[count++] = row
  return count
}

function rowsAllowed(codes: Codes, allowed: Uint8Array, rows: Uint32Array, count: number): number {
  let kept = 0
  for (let at = 0; at < count; at++) {
    const row = rows[at]!
    if (allowed[codes[row]!] === 1) rows[kept++] = row
  }
  return kept
}

/** Visits and people of each step, and people of each day: rows are by visitor, so only who was seen last matters. */
function countSteps({ rows, count, quarters, visitors, dayOf }: Counted, stepOf: Int32Array, steps: number) {
  const visits = new Uint32Array(steps)
  const people = new Uint32Array(steps)
  const lastOfStep = new Uint32Array(steps * MAX_DAYS)
  const lastOfDay = new Uint32Array(MAX_DAYS)
  let [all, most] = [0, 0]
  for (let at = 0; at < count; at++) {
    const row = rows[at]!
    const quarter = quarters[row]!
    const step = stepOf[quarter]!
    visits[step]!++
    const visitor = visitors[row]!
    if (visitor === 0) continue
    const day = dayOf[quarter]!
    const place = step * MAX_DAYS + day
    if (lastOfDay[day] !== visitor) {
      lastOfDay[day] = visitor
      all++
    }
    if (lastOfStep[place] !== visitor) {
      lastOfStep[place] = visitor
      people[step]!++
    }
    if (visitor > most) most = visitor
  }
  return { visits, people, all, most }
}

function takeRows(codes: Codes, { rows, count }: Counted, into: Int32Array): void {
  for (let at = 0; at < count; at++) into[at] = codes[rows[at]!]!
}
function mapRows(codes: Codes, groupOf: Int32Array, { rows, count }: Counted, into: Int32Array): void {
  for (let at = 0; at < count; at++) into[at] = groupOf[codes[rows[at]!]!]!
}
/** As `countGroups`, for rows that have any number of groups. */
function countSets(
  { rows, count, quarters, visitors, dayOf }: Counted,
  codes: Codes,
  { starts, groups: groupsOf }: Extract<Grouping, { by: 'sets' }>,
  groups: Uint32Array,
  base: number,
): void {
  for (let at = 0; at < count; at++) {
    const row = rows[at]!
    const code = codes[row]!
    const visitor = visitors[row]!
    const day = dayOf[quarters[row]!]!
    for (let one = starts[code]!, end = starts[code + 1]!; one < end; one++) {
      const place = groupsOf[one]! * STRIDE
      groups[place]!++
      if (visitor === 0 || groups[place + LAST + day] === base + visitor) continue
      groups[place + LAST + day] = base + visitor
      groups[place + 1]!++
    }
  }
}

function countGroups(
  { rows, count, quarters, visitors, dayOf }: Counted,
  mine: Int32Array,
  groups: Uint32Array,
  base: number,
): void {
  for (let at = 0; at < count; at++) {
    const group = mine[at]!
    if (group === -1) continue
    const place = group * STRIDE
    groups[place]!++
    const row = rows[at]!
    const visitor = visitors[row]!
    if (visitor === 0) continue
    const last = place + LAST + dayOf[quarters[row]!]!
    if (groups[last] === base + visitor) continue
    groups[last] = base + visitor
    groups[place + 1]!++
  }
}
