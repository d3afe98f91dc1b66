import { DateTime } from 'luxon'
import type { NoticeSettings } from './choose'

type Quiet = Pick<NoticeSettings, 'quiet' | 'quietFrom' | 'quietTo'>

/**
 * When a mail may go that comes up at `now`: at once, or when the quiet hours are over, by the clock of a time zone
 * (IANA). Hours over midnight are meant so; equal hours keep nothing quiet. Where the clock is put forward over the
 * hour at which they end, they end with that.
 */
export function quietUntil({ quiet, quietFrom, quietTo }: Quiet, timeZone: string, now: Date): Date {
  if (!quiet || quietFrom === quietTo) return now
  const here = DateTime.fromJSDate(now, { zone: timeZone })
  const within =
    quietFrom < quietTo ? here.hour >= quietFrom && here.hour < quietTo : here.hour >= quietFrom || here.hour < quietTo
  if (!within) return now
  const day = here.hour < quietTo ? here : here.plus({ days: 1 })
  return day.startOf('day').set({ hour: quietTo }).toJSDate()
}

type Digest = Pick<NoticeSettings, 'digest' | 'digestHour' | 'digestWeekday'>

/**
 * The last moment a digest was due at or before `now`, by the clock of a time zone (IANA); none where none is wished.
 * A day that lacks the hour has it at the next.
 */
export function digestDue(
  { digest, digestHour, digestWeekday }: Digest,
  timeZone: string,
  now: Date,
): Date | undefined {
  if (digest === 'none') return undefined
  const here = DateTime.fromJSDate(now, { zone: timeZone })
  const at = (day: DateTime) => day.startOf('day').set({ hour: digestHour })
  if (digest === 'daily') return (at(here) <= here ? at(here) : at(here.minus({ days: 1 }))).toJSDate()
  const day = here.minus({ days: (here.weekday - digestWeekday + 7) % 7 })
  return (at(day) <= here ? at(day) : at(day.minus({ days: 7 }))).toJSDate()
}
