import type { Connection } from 'mariadb'
import type { Cut } from '../core/misses'
import type { VisitEvent } from '../core/visits'
import { loadVisits } from './load'
import { storeCuts, storeMisses } from './misses'

const ROWS_A_STATEMENT = 500

/** What one batch tells: its key, by which it counts once, its visits, and what was cut. */
export interface Batch {
  key: string
  events: readonly VisitEvent[]
  cuts: readonly Cut[]
}

/**
 * Stores batches, all or none, and counts their visits by link and day of the organisation's time zone in the same
 * transaction. A batch whose key is known already is left alone. Returns how many visits were new.
 */
export async function storeBatches(
  connection: Connection,
  batches: readonly Batch[],
  timeZone: string,
): Promise<number> {
  await connection.beginTransaction()
  try {
    const fresh: Batch[] = []
    for (const batch of batches) {
      const { affectedRows } = await connection.query(
        'INSERT IGNORE INTO visit_batch (batch_key, received_at, events) VALUES (?, UTC_TIMESTAMP(3), ?)',
        [batch.key, batch.events.length],
      )
      if (affectedRows > 0) fresh.push(batch)
    }
    const events = fresh.flatMap((batch) => batch.events)
    await loadVisits(connection, events)
    await countDays(connection, events, timeZone)
    await storeMisses(connection, events)
    await storeCuts(
      connection,
      fresh.flatMap((batch) => batch.cuts),
    )
    await connection.commit()
    return events.length
  } catch (error) {
    await connection.rollback().catch(() => undefined)
    throw error
  }
}

async function countDays(connection: Connection, events: readonly VisitEvent[], timeZone: string): Promise<void> {
  const dayOf = dayReader(timeZone)
  const visits = events.filter((event) => event.kind === 'visit')
  await countInto(
    connection,
    'visit_day',
    'link_id',
    visits.filter((event) => event.linkId !== 0).map((event) => [event.linkId, dayOf(event.at)]),
  )
  await countInto(
    connection,
    'rule_day',
    'rule_id',
    visits.filter((event) => event.ruleId !== 0).map((event) => [event.ruleId, dayOf(event.at)]),
  )
}

async function countInto(
  connection: Connection,
  table: 'visit_day' | 'rule_day',
  column: 'link_id' | 'rule_id',
  visits: readonly [id: number, day: string][],
): Promise<void> {
  const counts = new Map<string, { id: number; day: string; visits: number }>()
  for (const [id, day] of visits) {
    const count = counts.get(id + day)
    if (count) count.visits++
    else counts.set(id + day, { id, day, visits: 1 })
  }
  // In key order, so that two gateways never wait for each other in a circle.
  const rows = [...counts.values()].sort((a, b) => a.id - b.id || a.day.localeCompare(b.day))
  for (let from = 0; from < rows.length; from += ROWS_A_STATEMENT) {
    const part = rows.slice(from, from + ROWS_A_STATEMENT)
    await connection.query(
      `INSERT INTO ${table} (${column}, day, visits) VALUES ${part.map(() => '(?,?,?)').join(',')}
       ON DUPLICATE KEY UPDATE visits = visits + VALUES(visits)`,
      part.flatMap((row) => [row.id, row.day, row.visits]),
    )
  }
}

/**
 * Reads moments as calendar days (YYYY-MM-DD) of a time zone; remembers by the quarter-hour, to which all zones keep.
 */
export function dayReader(timeZone: string): (at: number) => string {
  const format = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' })
  const known = new Map<number, string>()
  return (at) => {
    const quarter = Math.floor(at / 900_000)
    let day = known.get(quarter)
    if (day === undefined) known.set(quarter, (day = format.format(at)))
    return day
  }
}
