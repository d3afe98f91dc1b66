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
  private groupOf: Int32Array | undefined

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
    const { groupOf, codes } = this.singles(view, hourOf)
    const sets = this.grouping?.by === 'sets' ? this.grouping : undefined
    const setCodes = sets && view.codes[sets.dimension]
    const { groupVisits, groupPeople, lastOfGroup, lastOfStep, stepVisits, stepPeople } = this
    const put = (group: number, day: number, stamp: number) => {
      groupVisits[group]!++
      const place = group * MOST_DAYS + day
      if (stamp === 0 || lastOfGroup[place] === stamp) return
      lastOfGroup[place] = stamp
      groupPeople[group]!++
    }
    // Rows are by visitor, so who was seen last tells whether this one was seen before.
    const base = this.stamp
    const { quarters, kinds, repeats, visitors, length } = view
    const [first, second] = filters
    const [one, oneAllowed] = [first && view.codes[first.dimension], first?.allowed]
    const [two, twoAllowed] = [second && view.codes[second.dimension], second?.allowed]
    const others = filters.slice(2)
    const seen = new Float64Array(MOST_DAYS)
    let [most, visits, people, again] = [0, 0, 0, 0]
    for (let row = 0; row < length; row++) {
      if (kinds[row] !== kind) continue
      const quarter = quarters[row]!
      const step = stepOf[quarter]!
      if (step === -1) continue
      if (one !== undefined && oneAllowed![one[row]!] !== 1) continue
      if (two !== undefined && twoAllowed![two[row]!] !== 1) continue
      if (others.length > 0 && others.some(({ dimension, allowed }) => !allowed[view.codes[dimension][row]!])) continue
      const visitor = visitors[row]!
      const stamp = visitor === 0 ? 0 : base + visitor
      if (visitor > most) most = visitor
      const day = dayOf[quarter]!
      visits++
      again += repeats[row]!
      stepVisits[step]!++
      if (stamp !== 0) {
        if (seen[day] !== stamp) {
          seen[day] = stamp
          people++
        }
        const place = step * MOST_DAYS + day
        if (lastOfStep[place] !== stamp) {
          lastOfStep[place] = stamp
          stepPeople[step]!++
        }
      }
      if (codes !== undefined) {
        const group = groupOf![codes[row]!]!
        if (group !== -1) put(group, day, stamp)
      } else if (sets !== undefined) {
        const code = setCodes![row]!
        for (let at = sets.starts[code]!; at < sets.starts[code + 1]!; at++) put(sets.groups[at]!, day, stamp)
      }
    }
    this.visits += visits
    this.people += people
    this.repeats += again
    this.stamp = base + most
  }

  /** By which column of a view each row has one group at most, and which. */
  private singles(
    view: DayView,
    hourOf: Uint8Array,
  ): { groupOf?: Int32Array; codes?: Uint8Array | Uint16Array | Uint32Array } {
    const { grouping } = this
    if (grouping === undefined || grouping.by === 'sets') return {}
    if (grouping.by === 'hours') return { groupOf: Int32Array.from(hourOf), codes: view.quarters }
    this.groupOf ??=
      grouping.by === 'groups' ? grouping.groupOf : Int32Array.from({ length: grouping.size }, (_, at) => at)
    return { groupOf: this.groupOf, codes: view.codes[grouping.dimension] }
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
