import { deflateRawSync } from 'node:zlib'
import type { Connection } from 'mariadb'
import { dayOf, toPart, writePart, type VisitEvent } from '../core/visits'

const DAY_MS = 86_400_000
/** So many events lie in one row at most. */
const EVENTS_A_PART = 100_000

/** Stores raw visits, those of each day (UTC) together, within the transaction under way. */
export async function storeParts(connection: Connection, events: readonly VisitEvent[]): Promise<void> {
  const days = new Map<number, VisitEvent[]>()
  for (const event of events) {
    const day = dayOf(event.at)
    const there = days.get(day)
    if (there) there.push(event)
    else days.set(day, [event])
  }
  for (const [day, own] of [...days].sort(([one], [other]) => one - other))
    for (let from = 0; from < own.length; from += EVENTS_A_PART) {
      const part = toPart(day, own.slice(from, from + EVENTS_A_PART))
      await connection.query('INSERT INTO visit_part (day, events, data) VALUES (?, ?, ?)', [
        new Date(day * DAY_MS).toISOString().slice(0, 10),
        part.length,
        deflateRawSync(writePart(part), { level: 1 }),
      ])
    }
}

/** Notes quarter-hours in which somebody was there to count. */
export async function storePresence(connection: Connection, quarters: readonly number[]): Promise<void> {
  if (quarters.length > 0)
    await connection.query(
      `INSERT IGNORE INTO presence (quarter) VALUES ${quarters.map(() => '(?)').join(',')}`,
      [...quarters].sort((a, b) => a - b),
    )
}
