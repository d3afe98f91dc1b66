import { QUARTER_MS } from './day-view'

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000

/** How wide the steps of a series are. */
export const STEPS = ['quarter', 'hour', 'day', 'week', 'month'] as const
export type Step = (typeof STEPS)[number]

/**
 * The calendar of a time zone (IANA), reckoned by quarter-hours, at which all clocks of today are set forward and back.
 * Days are whole days since the epoch, as the clocks on the wall there count them.
 */
export class Calendar {
  private readonly format: Intl.DateTimeFormat
  /** Offsets in milliseconds by the day (UTC): one where the clocks are left alone, else one for each quarter-hour. */
  private readonly offsets = new Map<number, number | number[]>()

  constructor(readonly zone: string) {
    this.format = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    })
  }

  /** By how much the clocks there are ahead of UTC, in milliseconds. */
  offsetAt(at: number): number {
    const day = Math.floor(at / DAY_MS)
    let known = this.offsets.get(day)
    if (known === undefined) {
      const start = day * DAY_MS
      const each = [0, 6, 12, 18, 24].map((hour) => this.ask(start + hour * HOUR_MS))
      known = each.every((offset) => offset === each[0])
        ? each[0]!
        : Array.from({ length: DAY_MS / QUARTER_MS }, (_, quarter) => this.ask(start + quarter * QUARTER_MS))
      this.offsets.set(day, known)
    }
    return typeof known === 'number' ? known : known[Math.floor((at - day * DAY_MS) / QUARTER_MS)]!
  }

  private ask(at: number): number {
    const parts = Object.fromEntries(this.format.formatToParts(at).map(({ type, value }) => [type, Number(value)]))
    const local = Date.UTC(parts.year!, parts.month! - 1, parts.day!, parts.hour!, parts.minute!, parts.second!)
    return local - Math.floor(at / 1000) * 1000
  }

  dayAt(at: number): number {
    return Math.floor((at + this.offsetAt(at)) / DAY_MS)
  }
  /** The hour of the week, from Monday 0 o'clock on: 0 to 167. */
  hourOfWeekAt(at: number): number {
    const hours = Math.floor((at + this.offsetAt(at)) / HOUR_MS)
    // The epoch was a Thursday.
    return (((hours + 72) % 168) + 168) % 168
  }

  /** The first quarter-hour of a day. */
  startOfDay(day: number): number {
    let at = day * DAY_MS - this.offsetAt(day * DAY_MS) - 4 * HOUR_MS
    while (this.dayAt(at) < day) at += QUARTER_MS
    return at
  }

  /** When the step that a moment lies in begins. */
  startOf(step: Step, at: number): number {
    if (step === 'quarter') return Math.floor(at / QUARTER_MS) * QUARTER_MS
    if (step === 'hour') return at - ((((at + this.offsetAt(at)) % HOUR_MS) + HOUR_MS) % HOUR_MS)
    return this.startOfDay(firstDayOf(step, this.dayAt(at)))
  }

  /** When the steps from one moment to before another begin. */
  steps(step: Step, from: number, to: number): number[] {
    const starts: number[] = []
    for (let at = this.startOf(step, from); at < to;) {
      starts.push(at)
      at = this.nextOf(step, at)
    }
    return starts
  }

  private nextOf(step: Step, at: number): number {
    if (step === 'quarter') return at + QUARTER_MS
    if (step === 'hour') {
      // Where clocks are moved by less than an hour, an hour of theirs is shorter or longer.
      let next = at + QUARTER_MS
      while (this.startOf('hour', next) === at) next += QUARTER_MS
      return next
    }
    const day = this.dayAt(at)
    if (step === 'month') return this.startOfDay(firstDayOf('month', firstDayOf('month', day) + 32))
    return this.startOfDay(firstDayOf(step, day) + (step === 'week' ? 7 : 1))
  }
}

/** The first day of the day's week (Monday, ISO 8601) or month; of a day itself. */
export function firstDayOf(step: 'day' | 'week' | 'month', day: number): number {
  if (step === 'day') return day
  if (step === 'week') return day - ((((day + 3) % 7) + 7) % 7)
  const date = new Date(day * DAY_MS)
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) / DAY_MS
}

/** A day as it is written, YYYY-MM-DD. */
export const dayText = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10)
export const dayOfText = (text: string): number => Date.parse(text) / DAY_MS

const calendars = new Map<string, Calendar>()
/** The calendar of a zone; each is made once. */
export function calendarOf(zone: string): Calendar {
  let calendar = calendars.get(zone)
  if (!calendar) calendars.set(zone, (calendar = new Calendar(zone)))
  return calendar
}
