import { hostIn } from '../../../core/table'
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
  const wantedUntil = new Date(now.getTime() + WANTED_DAYS * 86_400_000)
  for (let from = 0; from < asked.length; from += PAGE)
    // Checks write the same rows in an order of their own.
    await retryOnLockConflict(() =>
      db.Target.bulkCreate(
        asked.slice(from, from + PAGE).map(({ hash, destination }) => ({
          hash,
          destination,
          host: (hostIn(destination) ?? '').slice(0, 255),
          dueAt: now,
          madeAt: now,
          wantedUntil,
          urgent,
        })),
        { updateOnDuplicate: ['wantedUntil'] },
      ),
    )
  return asked.length === destinations.length
}
