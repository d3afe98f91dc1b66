import { QueryTypes } from 'sequelize'
import type { Database } from '../database/open'

/** How long a worker may be silent, in seconds. */
const SILENCE_SECONDS = 20

export interface Health {
  status: 'ok' | 'degraded'
  database: { status: 'ok' | 'down' }
  processes: {
    admin: { status: 'ok' | 'misconfigured' }
    gateway: Record<string, unknown> & { status: string }
    worker: { status: 'ok' | 'down' | 'unknown' }
  }
}

/** One status per process and for the database. Never rejects: what cannot be asked is down or unknown. */
export async function readHealth(db: Database, gatewayControl: string, sessionsReady: boolean): Promise<Health> {
  const [gateway, signs] = await Promise.all([
    fetch(`${gatewayControl}/health`, { signal: AbortSignal.timeout(1500) })
      .then((response) => response.json() as Promise<{ status: string }>)
      .catch(() => ({ status: 'down' })),
    db.sequelize
      .query<{ age: number }>(
        "SELECT TIMESTAMPDIFF(SECOND, seen_at, UTC_TIMESTAMP(3)) AS age FROM process_sign WHERE process = 'worker'",
        { type: QueryTypes.SELECT },
      )
      .catch(() => undefined),
  ])
  const worker = signs === undefined ? 'unknown' : signs[0] && Number(signs[0].age) <= SILENCE_SECONDS ? 'ok' : 'down'
  const database = signs === undefined ? 'down' : 'ok'
  const admin = sessionsReady ? 'ok' : 'misconfigured'
  return {
    status: database === 'ok' && gateway.status === 'ok' && worker === 'ok' && admin === 'ok' ? 'ok' : 'degraded',
    database: { status: database },
    processes: { admin: { status: admin }, gateway, worker: { status: worker } },
  }
}
