import { LRUCache } from 'lru-cache'
import { QueryTypes } from 'sequelize'
import {
  calendarOf,
  dayOf,
  dayText,
  octetsOf,
  octetsOfSums,
  readSums,
  toDayView,
  Vocabulary,
  type Calendar,
  type DayView,
  type Sums,
  type VisitPart,
} from '../../../core/visits'
import type { Database } from '../../database/open'
import type { SecondThread } from './second-thread'
import { listParts, readParts, unpacked, type KeptPart } from './visit-parts'

const DAY_MS = 86_400_000
/** Parts are listed again so often, where others put them together meanwhile. */
const MAX_TRIES = 5
/** What was read of the past is kept in memory, up to so many octets. */
const MAX_OCTETS = 512 * 1024 * 1024

/** A day's sums: by which zone's calendar, and of how many visits. */
export interface SummedDay {
  zone: string
  seen: number
}

/** What there is to answer from: raw visits by day (UTC), and sums by day and month of the calendar. */
export interface Holdings {
  calendar: Calendar
  /** Parts of each day (UTC), by whole days since the epoch. */
  parts: ReadonlyMap<number, readonly KeptPart[]>
  /** Days of the calendar whose sums hold all that was stored until now. */
  days: ReadonlyMap<number, SummedDay>
  /** Days counted by another zone's calendar whose visits are all still there. */
  elsewhere: readonly number[]
  /** Days whose sums hold visits that are not kept one by one any more. */
  gone: ReadonlySet<number>
  /** First days of the months whose sums hold all of their days. */
  months: ReadonlySet<number>
}

/** Reads raw visits and sums from the database, and remembers what it read, within bounds. */
export class VisitStore {
  readonly vocabulary = new Vocabulary()
  private readonly views = new LRUCache<number, { mark: string; view: DayView }>({
    maxSize: MAX_OCTETS,
    sizeCalculation: ({ view }) => octetsOf(view) + 1000,
    dispose: ({ mark }, day) => this.second?.drop(`${day} ${mark}`),
  })
  private readonly sums = new LRUCache<string, Sums>({
    maxSize: MAX_OCTETS / 2,
    sizeCalculation: (sums) => octetsOfSums(sums) + 1000,
  })
  /** Parts of days that still grow. */
  private readonly recent = new LRUCache<string, VisitPart>({ max: 400 })

  /** `second` counts some of the days of large questions, where there is more than one processor. */
  constructor(
    readonly db: Database,
    readonly second?: SecondThread,
    /** Fewer visits than this are counted by this thread alone. */
    readonly few = 500_000,
  ) {}

  /** What there is for some days of a zone's calendar, both included. */
  async holdings(zone: string, first: number, last: number): Promise<Holdings> {
    const calendar = calendarOf(zone)
    const listed = await listParts(this.db, dayText(first - 1), dayText(last + 1))
    const parts = new Map<number, KeptPart[]>()
    for (const part of listed) {
      const day = Date.parse(part.day) / DAY_MS
      const there = parts.get(day)
      if (there) there.push(part)
      else parts.set(day, [part])
    }
    const [rows, months] = await Promise.all([
      this.db.sequelize.query<{ day: string; zone: string; seen: number }>(
        `SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, zone, seen FROM traffic_day WHERE day >= ? AND day <= ?`,
        { replacements: [dayText(first), dayText(last)], type: QueryTypes.SELECT },
      ),
      this.db.sequelize.query<{ month: string }>(
        `SELECT DATE_FORMAT(month, '%Y-%m-%d') AS month FROM traffic_month WHERE month >= ? AND month <= ?`,
        { replacements: [dayText(first - 31), dayText(last)], type: QueryTypes.SELECT },
      ),
    ])
    const days = new Map<number, SummedDay>()
    const gone = new Set<number>()
    const elsewhere: number[] = []
    for (const row of rows) {
      const day = Date.parse(row.day) / DAY_MS
      const kept = keptOf(parts, calendarOf(row.zone), day)
      const seen = Number(row.seen)
      if (kept < seen) gone.add(day)
      else if (row.zone !== zone) elsewhere.push(day)
      // Another zone's days, where they can still be counted anew, are.
      if (kept <= seen && (row.zone === zone || kept < seen)) days.set(day, { zone: row.zone, seen })
    }
    return {
      calendar,
      parts,
      days,
      elsewhere,
      gone,
      months: new Set(months.map(({ month }) => Date.parse(month) / DAY_MS)),
    }
  }

  /**
   * The visits of a day (UTC), by the name this view has among threads. Parts that were put together by others after
   * they were listed are listed again.
   */
  async view(day: number, listed: readonly KeptPart[]): Promise<{ name: string; view: DayView }> {
    for (let parts = listed, tries = 0; ; tries++) {
      const mark = parts.map(({ id, version }) => `${id}.${version}`).join()
      const name = `${day} ${mark}`
      const known = this.views.get(day)
      if (known?.mark === mark) return { name, view: known.view }
      const all = await this.read(day, parts)
      if (all.length < parts.length && tries < MAX_TRIES) {
        parts = await listParts(this.db, dayText(day), dayText(day))
        continue
      }
      const view = toDayView(day, all, this.vocabulary)
      this.views.set(day, { mark, view })
      return { name, view }
    }
  }

  private async read(day: number, parts: readonly KeptPart[]): Promise<VisitPart[]> {
    const nameOf = (part: KeptPart) => `${day} ${part.id}.${part.version}`
    const missing = parts.filter((part) => !this.recent.has(nameOf(part))).map(({ id }) => id)
    const read = await readParts(this.db, dayText(day), missing)
    const all = parts.flatMap((part) => this.recent.get(nameOf(part)) ?? read.get(part.id) ?? [])
    if (day >= dayOf(Date.now()) - 1)
      for (const part of parts) {
        const own = read.get(part.id)
        if (own) this.recent.set(nameOf(part), own)
      }
    return all
  }

  /** What was counted of a day of the calendar. */
  sumsOfDay(day: number, { zone, seen }: SummedDay): Promise<Sums | undefined> {
    return this.readSums('traffic_day', 'day', day, `${zone} ${day} ${seen}`)
  }
  sumsOfMonth(month: number, mark: string): Promise<Sums | undefined> {
    return this.readSums('traffic_month', 'month', month, `month ${month} ${mark}`)
  }

  private async readSums(
    table: 'traffic_day' | 'traffic_month',
    column: string,
    at: number,
    name: string,
  ): Promise<Sums | undefined> {
    const known = this.sums.get(name)
    if (known) return known
    const [row] = await this.db.sequelize.query<{ data: Buffer }>(`SELECT data FROM ${table} WHERE ${column} = ?`, {
      replacements: [dayText(at)],
      type: QueryTypes.SELECT,
    })
    if (!row) return undefined
    const sums = readSums(await unpacked(row.data), this.vocabulary)
    this.sums.set(name, sums)
    return sums
  }
}

/** The days (UTC) that a day of a calendar lies in. */
export function utcDaysOf(calendar: Calendar, day: number): number[] {
  const first = dayOf(calendar.startOfDay(day))
  const last = dayOf(calendar.startOfDay(day + 1) - 1)
  return Array.from({ length: last - first + 1 }, (_, at) => first + at)
}

/** How many visits are kept one by one of the days (UTC) that a day lies in. */
export const keptOf = (parts: ReadonlyMap<number, readonly KeptPart[]>, calendar: Calendar, day: number): number =>
  utcDaysOf(calendar, day).reduce(
    (sum, utc) => sum + (parts.get(utc) ?? []).reduce((own, { events }) => own + events, 0),
    0,
  )
