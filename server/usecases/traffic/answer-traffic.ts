import type { Traffic, TrafficQuery } from '../../../core/schemas'
import { calendarOf, QUARTER_MS, type Calendar, type Step } from '../../../core/visits'
import { fieldProblem } from '../problem'
import { countPeriod } from './count-period'
import { readFacts } from './groupings'
import { zoneOf } from './roll-visits'
import { fewestPeople, firstRows, withLabels } from './traffic-rows'
import type { VisitStore } from './visit-store'

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000
/** So many steps a series has at most. */
const MAX_STEPS = 2200

export interface AnswerOptions {
  now?: number
  /** Asked now and then; true ends the work. */
  cancelled?(): boolean
}

/**
 * Answers how many visits there were, by whom, when and by what (semantics §8): the sums of months and days where these
 * answer it exactly, the visits one by one where they are still kept, and says from when on it is complete.
 */
export async function answerTraffic(
  store: VisitStore,
  query: TrafficQuery,
  options: AnswerOptions = {},
): Promise<Traffic> {
  const now = options.now ?? Date.now()
  const zone = await zoneOf(store.db)
  const calendar = calendarOf(zone)
  const from = Math.floor(Date.parse(query.from) / QUARTER_MS) * QUARTER_MS
  const to = Math.ceil(Date.parse(query.to) / QUARTER_MS) * QUARTER_MS
  if (from >= to) throw fieldProblem('to', 'The end must lie after the begin.')
  const step = query.step ?? usualStep(to - from)
  refuseTooMany(step, from, to)
  const facts = await readFacts(store.db, query)
  const period = (begin: number, end: number) =>
    countPeriod(store, query, { facts, calendar, from: begin, to: end, step, now, cancelled: options.cancelled })
  const told = await period(from, to)
  const days = daysBack(calendar, from, to, query)
  const compared = days === undefined ? undefined : await period(...earlier(calendar, from, to, days))
  const few = await fewestPeople(store.db, query)
  const { rows, groups } = firstRows(told.groups, compared?.groups, query, few)
  return {
    ...told.view,
    step,
    zone,
    repeats: told.repeats,
    compared: compared?.view ?? null,
    rows: await withLabels(store.db, query, rows),
    groups,
    complete: told.since === undefined,
    since: told.since === undefined ? null : new Date(told.since).toISOString(),
  }
}

/** How wide the steps of a period are where nobody says. */
export function usualStep(length: number): Step {
  if (length <= 6 * HOUR_MS) return 'quarter'
  if (length <= 3 * DAY_MS) return 'hour'
  if (length <= 124 * DAY_MS) return 'day'
  return length <= 800 * DAY_MS ? 'week' : 'month'
}

const STEP_MS: Record<Step, number> = {
  quarter: QUARTER_MS,
  hour: HOUR_MS,
  day: DAY_MS,
  week: 7 * DAY_MS,
  month: 28 * DAY_MS,
}

function refuseTooMany(step: Step, from: number, to: number): void {
  const steps = Math.ceil((to - from) / STEP_MS[step])
  if (steps > MAX_STEPS)
    throw fieldProblem(
      'step',
      `This period has ${steps.toLocaleString('en')} steps; at most ${MAX_STEPS.toLocaleString('en')} are told. ` +
        'Choose wider steps or a shorter period.',
    )
}

/**
 * Returns by how many days the compared period begins earlier, or undefined without one. The previous period and the
 * one a year before are shifted by whole weeks, so that weekdays match. Negative where the chosen period is later.
 */
function daysBack(calendar: Calendar, from: number, to: number, query: TrafficQuery): number | undefined {
  if (query.compare === 'none') return undefined
  if (query.compare === 'year') return 364
  if (query.compare === 'before') return Math.max(1, Math.ceil((to - from) / (7 * DAY_MS))) * 7
  if (query.against === undefined)
    throw fieldProblem('against', 'Enter the first day of the period to compare with, for example 2026-11-02.')
  return calendar.dayAt(from) - Date.parse(`${query.against}T00:00:00Z`) / DAY_MS
}

/** Returns begin and end of the period a number of days earlier, at the same times of day, in milliseconds. */
function earlier(calendar: Calendar, from: number, to: number, days: number): [number, number] {
  const back = (at: number) => {
    const day = calendar.dayAt(at)
    return calendar.startOfDay(day - days) + (at - calendar.startOfDay(day))
  }
  return [back(from), back(to)]
}
