import { dayOf, firstDayOf, type Summed } from '../../../core/visits'
import { TRAFFIC_FILTERS, type TrafficQuery } from '../../../core/schemas'
import { keptOf, utcDaysOf, type Holdings } from './visit-store'

const DAY_MS = 86_400_000

/** Which sums answer a question, and whether they tell people exactly. */
export interface Answering {
  summed: Summed
  exact: boolean
}

const DERIVED = { tag: 'link', owner: 'link', 'referrer-kind': 'referrer' } as const

/**
 * Which sums answer a question, beside the raw visits: those by the one thing it groups by or asks for one value of;
 * none where it combines things. Groups of links or referrers are sums of theirs, in which a person who visited two of
 * a group counts twice.
 */
export function answeredBy(query: TrafficQuery): Answering | undefined {
  const filters = TRAFFIC_FILTERS.filter((name) => query[name] !== undefined)
  const things = new Set([...filters, ...(query.by ? [query.by] : [])])
  things.delete('domain')
  if (things.size > 1) return undefined
  const [thing] = things
  const domains = query.domain?.length ?? 0
  // By domain there are sums of each, and of all; links and what is derived of them are summed over all.
  if (domains > 1) return undefined
  if (thing === undefined) return { summed: 'all', exact: true }
  if ((thing === 'link' || thing === 'tag' || thing === 'owner') && (domains > 0 || query.by === 'domain'))
    return undefined
  const asked = query[thing as (typeof filters)[number]]
  if (thing in DERIVED) return { summed: DERIVED[thing as keyof typeof DERIVED], exact: false }
  if (asked !== undefined && asked.length > 1) return undefined
  return { summed: thing as Summed, exact: true }
}

/** Where the parts of an answer come from. */
export interface Plan {
  months: number[]
  days: number[]
  /** Days of the calendar answered visit by visit, and the days (UTC) these lie in. */
  visitDays: ReadonlySet<number>
  utcDays: number[]
  /** The last day that could not be answered, whose visits are only kept as sums that do not answer this. */
  unknownUntil: number | undefined
  exact: boolean
}

/** Chooses, for each day of a period, the coarsest of what there is that answers a question exactly. */
export function planOf(
  holdings: Holdings,
  { from, to, step }: { from: number; to: number; step: string },
  answering: Answering | undefined,
): Plan {
  const { calendar, days, months, parts, gone } = holdings
  const plan = {
    months: [] as number[],
    days: [] as number[],
    visitDays: new Set<number>(),
    utcDays: [] as number[],
    unknownUntil: undefined as number | undefined,
    exact: true,
  }
  const coarse = step === 'day' || step === 'week' || step === 'month'
  const [first, last] = [calendar.dayAt(from), calendar.dayAt(to - 1)]
  const isWhole = (day: number) => calendar.startOfDay(day) >= from && calendar.startOfDay(day + 1) <= to
  /** Whether all days from one to before another are counted, so far as there was anything to count. */
  const isSummed = (day: number, until: number) => {
    for (; day < until; day++) if (!days.has(day) && keptOf(parts, calendar, day) > 0) return false
    return true
  }
  /** Sums that do not tell people exactly are for days only whose visits are gone. */
  const mayUse = (day: number, until: number) => {
    if (answering?.exact) return true
    for (; day < until; day++) if (days.has(day) && !gone.has(day)) return false
    return true
  }
  let done = first - 1
  // Of days nothing is known of there is nothing to count: a period may be as long as anybody likes.
  for (const day of daysOf(holdings)) {
    if (day <= done || day > last) continue
    const next = monthAfter(day)
    const month = firstDayOf('month', day)
    const isMonth = answering && step === 'month' && months.has(month) && month > done && next - 1 <= last
    // A month counts for one step, so it must lie in the period whole, with sums of all its days.
    if (isMonth && isWhole(month) && isWhole(next - 1) && isSummed(month, next) && mayUse(month, next)) {
      plan.months.push(month)
      plan.exact &&= answering.exact
      done = next - 1
    } else if (answering && coarse && days.has(day) && isWhole(day) && mayUse(day, day + 1)) {
      plan.days.push(day)
      plan.exact &&= answering.exact
    } else {
      if (gone.has(day)) plan.unknownUntil = day
      plan.visitDays.add(day)
    }
  }
  const utc = new Set([...plan.visitDays].flatMap((day) => utcDaysOf(calendar, day)))
  plan.utcDays = [...utc]
    .filter((day) => parts.has(day) && day >= dayOf(from) && day <= dayOf(to - 1))
    .sort((a, b) => a - b)
  return plan
}

/** The days of the calendar anything is known of, in their order. */
function daysOf({ calendar, days, gone, parts }: Holdings): number[] {
  const all = new Set([...days.keys(), ...gone])
  for (const utc of parts.keys()) for (const at of [0, DAY_MS - 1]) all.add(calendar.dayAt(utc * DAY_MS + at))
  return [...all].sort((a, b) => a - b)
}

function monthAfter(day: number): number {
  const date = new Date(day * DAY_MS)
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1) / DAY_MS
}
