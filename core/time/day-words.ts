import { DateTime } from 'luxon'

/** How a calendar day is written everywhere, as a format of Luxon. */
export const DAY_FORMAT = 'ccc d LLL yyyy'

/** A calendar day (YYYY-MM-DD) as people read it: `Thu 19 Nov 2026`; text that is no day is returned unchanged. */
export function dayWords(iso: string): string {
  const day = DateTime.fromISO(iso, { zone: 'utc' }).setLocale('en-GB')
  return day.isValid ? day.toFormat(DAY_FORMAT) : iso
}
