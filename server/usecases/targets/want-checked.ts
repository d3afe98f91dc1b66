import { hostIn } from '../../../core/table'
import { columnValue } from '../../database/column-value'
import type { Database } from '../../database/open'
import { retryOnLockConflict } from '../ledger/lock-conflicts'

/** So long destinations are asked although nothing leads there yet. */
const WANTED_DAYS = 2
const PAGE = 500

/** Has destinations checked by the workers that nothing leads to yet; false where some cannot be asked. */
export async function wantChecked(
  db: Database,
  destinations: readonly { hash: string; destination: string }[],
  { urgent }: { urgent: boolean },
): Promise<boolean> {
  const asked = destinations.filter(({ destination }) => /^https?:/i.test(destination))
  const now = new Date()
  const [dueAt, wantedUntil] = [now, new Date(now.getTime() + WANTED_DAYS * 86_400_000)].map(columnValue)
  for (let from = 0; from < asked.length; from += PAGE) {
    const rows = asked
      .slice(from, from + PAGE)
      .map(({ hash, destination }) => [
        hash,
        destination,
        (hostIn(destination) ?? '').slice(0, 255),
        dueAt,
        dueAt,
        wantedUntil,
        Number(urgent),
      ])
    // Checks write the same rows in an order of their own.
    await retryOnLockConflict(() =>
      db.sequelize.query(
        `INSERT INTO target (hash, destination, host, due_at, made_at, wanted_until, urgent) VALUES ?
         ON DUPLICATE KEY UPDATE wanted_until = VALUES(wanted_until)`,
        { replacements: [rows] },
      ),
    )
  }
  return asked.length === destinations.length
}
