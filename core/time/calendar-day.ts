import { DateTime } from 'luxon'

/** The calendar day of a moment (milliseconds) in a time zone, as YYYY-MM-DD. */
export const dayIn = (timeZone: string, at: number): string => DateTime.fromMillis(at, { zone: timeZone }).toISODate()!

/** All zones keep to quarters of an hour. */
const QUARTER_MS = 900_000
/** A year of quarters; beyond that the memory is cleared. */
const MAX_KNOWN = 35_040

/** Reads very many moments as days of a time zone: it remembers by the quarter-hour. */
export function dayReader(timeZone: string): (at: number) => string {
  const known = new Map<number, string>()
  return (at) => {
    const quarter = Math.floor(at / QUARTER_MS)
    let day = known.get(quarter)
    if (day === undefined) {
      if (known.size >= MAX_KNOWN) known.clear()
      known.set(quarter, (day = dayIn(timeZone, at)))
    }
    return day
  }
}
