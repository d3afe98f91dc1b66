import { en } from 'chrono-node'
import { DateTime } from 'luxon'
import { DAY_FORMAT } from './day-words'

/** A date that was typed: of a day, or of a moment. */
export interface TypedMoment {
  /** `2026-11-19`, or `2026-11-19T06:12` where a moment is wanted; on the clocks of the zone. */
  value: string
  /** `Thu 19 Nov 2026`, or `Thu 19 Nov 2026, 06:12`. */
  words: string
}

export type DateKind = 'day' | 'moment'

const VALUE = { day: 'yyyy-MM-dd', moment: "yyyy-MM-dd'T'HH:mm" } as const
const WORDS = { day: DAY_FORMAT, moment: `${DAY_FORMAT}, HH:mm` } as const
/** Values are times on a clock: the computer’s own time zone must not skip any of them. */
const CLOCK = { zone: 'utc' } as const
const FIRST_YEAR = 1900
const LAST_YEAR = 2200

/** How a value of a date field is shown; empty where it is none. */
export function momentWords(value: string, kind: DateKind): string {
  const read = DateTime.fromISO(value, CLOCK).setLocale('en-GB')
  return value !== '' && read.isValid ? read.toFormat(WORDS[kind]) : ''
}

/**
 * Reads a date as people type it: `19 Nov`, `tomorrow 9:00`, `in 3 days`, `31.12.2027`, `12/11/2026` (the day first),
 * or ISO 8601. Without a year the next such day is meant, or the last one where dates are of the past; a moment without
 * a time is the beginning of the day. Undefined where it is no date.
 */
export function readTypedMoment(
  typed: string,
  { kind, zone, now, isPast = false }: { kind: DateKind; zone: string; now: Date; isPast?: boolean },
): TypedMoment | undefined {
  const text = typed.trim()
  const iso = /^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2})?)?$/.test(text)
    ? DateTime.fromISO(text.replace(' ', 'T'), CLOCK)
    : undefined
  const read = iso ?? readWords(text, zone, now, isPast)
  if (!read?.isValid || read.year < FIRST_YEAR || read.year > LAST_YEAR) return undefined
  const value = read.toFormat(VALUE[kind])
  return { value, words: momentWords(value, kind) }
}

function readWords(text: string, zone: string, now: Date, isPast: boolean): DateTime | undefined {
  const reference = { instant: now, timezone: DateTime.fromJSDate(now, { zone }).offset }
  const [found, ...more] = en.GB.parse(text, reference, { forwardDate: !isPast })
  // Other words beside the date: ask rather than guess.
  if (!found || more.length > 0 || found.end || found.text.length < text.replace(/[\s,.]+$/, '').length)
    return undefined
  const { start } = found
  const hasTime = start.isCertain('hour')
  const of = (part: 'year' | 'month' | 'day' | 'hour' | 'minute') => start.get(part) ?? 0
  const clock = hasTime && { hour: of('hour'), minute: of('minute') }
  const day = DateTime.fromObject({ year: of('year'), month: of('month'), day: of('day'), ...clock }, CLOCK)
  const today = DateTime.fromJSDate(now, { zone }).toISODate()!
  const isAhead = isPast && !start.isCertain('year') && start.isCertain('month') && day.toISODate()! > today
  return isAhead ? day.minus({ years: 1 }) : day
}
