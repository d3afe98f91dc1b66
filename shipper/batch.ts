import type { Connection } from 'mariadb'
import type { Cut } from '../core/misses'
import type { VisitEvent } from '../core/visits'
import { countDays } from './days'
import { storeCuts, storeMisses } from './misses'
import { storeParts, storePresence } from './parts'

/** What one batch tells: its key, by which it counts once, its visits, and what was cut. */
export interface Batch {
  key: string
  events: readonly VisitEvent[]
  cuts: readonly Cut[]
  /** Quarter-hours since the epoch in which a gateway was there to count. */
  quarters?: readonly number[]
  /** Lines that could not be read: visits that were answered and are lost. */
  torn?: number
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
        'INSERT IGNORE INTO visit_batch (batch_key, received_at, events, torn) VALUES (?, UTC_TIMESTAMP(3), ?, ?)',
        [batch.key, batch.events.length, batch.torn ?? 0],
      )
      if (affectedRows > 0) fresh.push(batch)
    }
    const events = fresh.flatMap((batch) => batch.events)
    await storeParts(connection, events)
    await countDays(connection, events, timeZone)
    await storeMisses(connection, events)
    await storePresence(connection, [...new Set(fresh.flatMap(({ quarters = [] }) => quarters))])
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
