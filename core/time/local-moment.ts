import { DateTime } from 'luxon'

/**
 * The moment a clock on the wall shows a local time (like 2027-03-28T00:00) in a time zone (IANA), as RFC 5545 §3.3.5
 * reads it: where the clocks are put back over it, the first of the two; where they are put forward over it, as if they
 * had not been yet. ISO 8601 in UTC; `null` where it is no time.
 */
export function localMoment(text: string, zone: string): string | null {
  const read = DateTime.fromISO(text, { zone })
  if (!read.isValid) return null
  const [first] = read.getPossibleOffsets().sort((a, b) => a.toMillis() - b.toMillis())
  return (first ?? read).toUTC().toISO()
}
