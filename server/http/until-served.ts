import { setTimeout as pause } from 'node:timers/promises'
import type { Database } from '../database/open'

/** Gateways are waited for this long at most, in milliseconds; what was written counts either way. */
const PATIENCE_MS = 60_000
const POLL_MS = 100
const ANSWER_MS = 1000

/**
 * Waits until every gateway process answers by an entry of the ledger, so that “applied” is true for visitors when it
 * is said. Gives up where no gateway answers or one has no database: it takes the change in once it has.
 */
export async function untilServed(db: Database, gatewayControl: string, entryId: number | null): Promise<void> {
  if (entryId === null) return
  const entry = await db.LedgerEntry.findByPk(entryId, { attributes: ['revision', 'liveAt'] })
  if (!entry) return
  const deadline = Date.now() + PATIENCE_MS
  const liveAt = entry.liveAt?.getTime() ?? 0
  while (Date.now() < deadline) {
    const health = await fetch(`${gatewayControl}/health`, { signal: AbortSignal.timeout(ANSWER_MS) })
      .then((response) => response.json() as Promise<{ status: string; revision: number }>)
      .catch(() => undefined)
    if (health?.status !== 'ok') return
    if (health.revision >= Number(entry.revision) && Date.now() >= Math.min(liveAt, deadline)) return
    await pause(POLL_MS)
  }
}
