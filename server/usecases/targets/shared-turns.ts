import { QueryTypes } from 'sequelize'
import type { Settings } from '../../../core/schemas'
import { Busy, type Turns } from '../../targets/asker'
import type { Database } from '../../database/open'

/** A place is free again after this, should whoever took it be killed. */
const PLACE_SECONDS = 40
/** Who has to wait longer comes again later. */
const MAX_WAIT_MS = 20_000
const LOOK_MS = 100

/**
 * Turns at hosts, shared by all processes of an installation through the database: so many at once and so many a
 * second at each host, whoever asks. A host that asked to wait is left alone so long by all of them.
 */
export function sharedTurns(db: Database, settings: Pick<Settings, 'checkPerHost' | 'checkPerSecond'>): Turns {
  const gapMs = Math.ceil(1000 / settings.checkPerSecond)
  return {
    async take(host) {
      const give = Date.now() + MAX_WAIT_MS
      for (;;) {
        await makeKnown(db, host)
        const taken = await tryTake(db, host, settings.checkPerHost, gapMs)
        if ('place' in taken)
          return {
            done: (waitMs) => void release(db, host, taken.place, waitMs ?? 0).catch(() => undefined),
          }
        if (Date.now() + taken.waitMs > give) throw new Busy(host, taken.waitMs)
        await new Promise((resolve) => setTimeout(resolve, Math.max(LOOK_MS, taken.waitMs)))
      }
    },
  }
}

/** A row that is there can be locked; one that is not leaves a gap that others wait for in a circle. */
const makeKnown = (db: Database, host: string) =>
  db.sequelize.query('INSERT IGNORE INTO target_host (host, next_at) VALUES (?, UTC_TIMESTAMP(3))', {
    replacements: [host],
  })

function tryTake(
  db: Database,
  host: string,
  most: number,
  gapMs: number,
): Promise<{ place: number } | { waitMs: number }> {
  return db.sequelize.transaction(async (transaction) => {
    const select = { type: QueryTypes.SELECT as const, transaction }
    const [row] = await db.sequelize.query<{ wait_us: string }>(
      `SELECT TIMESTAMPDIFF(MICROSECOND, UTC_TIMESTAMP(3), next_at) AS wait_us FROM target_host
       WHERE host = ? FOR UPDATE`,
      { replacements: [host], ...select },
    )
    // Forgotten just now, as hosts are that nobody asked for a day.
    if (!row) return { waitMs: 0 }
    const waitMs = Math.ceil(Number(row.wait_us) / 1000)
    if (waitMs > 0) return { waitMs }
    const busy = await db.sequelize.query<{ place: number }>(
      'SELECT place FROM target_turn WHERE host = ? AND free_at > UTC_TIMESTAMP(3)',
      { replacements: [host], ...select },
    )
    const taken = new Set(busy.map(({ place }) => Number(place)))
    const place = Array.from({ length: most }, (_, index) => index).find((index) => !taken.has(index))
    if (place === undefined) return { waitMs: LOOK_MS }
    await db.sequelize.query(
      `INSERT INTO target_turn (host, place, free_at)
       VALUES (:host, :place, DATE_ADD(UTC_TIMESTAMP(3), INTERVAL :seconds SECOND))
       ON DUPLICATE KEY UPDATE free_at = VALUES(free_at)`,
      { replacements: { host, place, seconds: PLACE_SECONDS }, transaction },
    )
    await db.sequelize.query(
      'UPDATE target_host SET next_at = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? MICROSECOND) WHERE host = ?',
      { replacements: [gapMs * 1000, host], transaction },
    )
    return { place }
  })
}

async function release(db: Database, host: string, place: number, waitMs: number): Promise<void> {
  await db.sequelize.query('UPDATE target_turn SET free_at = UTC_TIMESTAMP(3) WHERE host = ? AND place = ?', {
    replacements: [host, place],
  })
  if (waitMs > 0)
    await db.sequelize.query(
      `UPDATE target_host SET next_at = GREATEST(next_at, DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? MICROSECOND))
       WHERE host = ?`,
      { replacements: [Math.round(waitMs * 1000), host] },
    )
}
