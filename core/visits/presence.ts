import { QUARTER_MS } from './day-view'

/** A line of the spool that says only that somebody was there to count at a moment. */
export const writePresence = (at: number): string => `["here",${at}]`

/** Reads such a line: the quarter-hour, counted from the epoch; `undefined` for any other line. */
export function readPresence(line: string): number | undefined {
  const at = /^\["here",(\d{1,15})\]$/.exec(line)?.[1]
  return at === undefined ? undefined : Math.floor(Number(at) / QUARTER_MS)
}
