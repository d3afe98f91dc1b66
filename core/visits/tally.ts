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

/** Days that a day (UTC) has part in, at most: days of zones begin and end within it. */
const MOST_DAYS = 4

/**
 * Counts visits and people: of people, different visitors of each day of the calendar, summed over days (semantics §8).
 */
export class Tally {
  visits = 0
  people = 0
  repeats = 0
  readonly stepVisits: Float64Array
  readonly stepPeople: Float64Array
  readonly groupVisits: Float64Array
  readonly groupPeople: Float64Array
  private readonly lastOfStep: Float64Array
  private readonly lastOfGroup: Float64Array
  private stamp = 0

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
    this.lastOfStep = new Float64Array(starts.length * MOST_DAYS)
    this.groupVisits = new Float64Array(size)
    this.groupPeople = new Float64Array(size)
    this.lastOfGroup = new Float64Array(size * MOST_DAYS)
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
    const stepOf = new Int32Array(QUARTERS).fill(-1)
    const dayOf = new Uint8Array(QUARTERS)
    const hourOf = new Uint8Array(QUARTERS)
    let any = false
    const firstDay = this.calendar.dayAt(view.day * 86_400_000)
    for (let quarter = 0; quarter < QUARTERS; quarter++) {
      const at = view.day * 86_400_000 + quarter * QUARTER_MS
      if (at < from || at >= to || !only(at)) continue
      hourOf[quarter] = this.calendar.hourOfWeekAt(at)
      if (hours && !hours[hourOf[quarter]!]) continue
      stepOf[quarter] = this.stepAt(at)
      dayOf[quarter] = this.calendar.dayAt(at) - firstDay
      any = true
    }
    if (!any) return
    // Rows are by visitor, so who was seen last tells whether this one was seen before.
    const base = this.stamp
    const { quarters, kinds, repeats, visitors, codes, length } = view
    const [first, second] = filters
    const [one, oneAllowed] = [first && codes[first.dimension], first?.allowed]
    const [two, twoAllowed] = [second && codes[second.dimension], second?.allowed]
    const others = filters.slice(2)
    const seen = new Float64Array(MOST_DAYS)
    const count = this.counterOf(view, hourOf)
    let most = 0
    for (let row = 0; row < length; row++) {
      if (kinds[row] !== kind) continue
      const quarter = quarters[row]!
      const step = stepOf[quarter]!
      if (step === -1) continue
      if (one && !oneAllowed![one[row]!]) continue
      if (two && !twoAllowed![two[row]!]) continue
      if (others.length > 0 && others.some(({ dimension, allowed }) => !allowed[codes[dimension][row]!])) continue
      const visitor = visitors[row]!
      const stamp = visitor === 0 ? 0 : base + visitor
      if (visitor > most) most = visitor
      const day = dayOf[quarter]!
      this.visits++
      this.repeats += repeats[row]!
      this.stepVisits[step]!++
      if (stamp !== 0) {
        if (seen[day] !== stamp) {
          seen[day] = stamp
          this.people++
        }
        const place = step * MOST_DAYS + day
        if (this.lastOfStep[place] !== stamp) {
          this.lastOfStep[place] = stamp
          this.stepPeople[step]!++
        }
      }
      count?.(row, day, stamp, quarter)
    }
    this.stamp = base + most
  }

  private counterOf(
    view: DayView,
    hourOf: Uint8Array,
  ): ((row: number, day: number, stamp: number, quarter: number) => void) | undefined {
    const { grouping, groupVisits, groupPeople, lastOfGroup } = this
    if (!grouping) return undefined
    const put = (group: number, day: number, stamp: number) => {
      groupVisits[group]!++
      if (stamp === 0) return
      const place = group * MOST_DAYS + day
      if (lastOfGroup[place] === stamp) return
      lastOfGroup[place] = stamp
      groupPeople[group]!++
    }
    if (grouping.by === 'hours') return (_row, day, stamp, quarter) => put(hourOf[quarter]!, day, stamp)
    const codes = view.codes[grouping.dimension]
    if (grouping.by === 'words') return (row, day, stamp) => put(codes[row]!, day, stamp)
    if (grouping.by === 'groups') {
      const { groupOf } = grouping
      return (row, day, stamp) => {
        const group = groupOf[codes[row]!]!
        if (group !== -1) put(group, day, stamp)
      }
    }
    const { starts, groups } = grouping
    return (row, day, stamp) => {
      const code = codes[row]!
      for (let at = starts[code]!; at < starts[code + 1]!; at++) put(groups[at]!, day, stamp)
    }
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
    this.groupVisits[group]! += visits
    this.groupPeople[group]! += people
  }
}
