import { QueryTypes } from 'sequelize'
import type { Database } from '../database/open'

/** How long a worker may be silent, in seconds. */
const SILENCE_SECONDS = 20

/** Nobody who asks for the health waits longer than this for any part of it. */
const PATIENCE_MS = 1500

export interface Health {
  status: 'ok' | 'degraded'
  database: { status: 'ok' | 'down' }
  processes: {
    admin: { status: 'ok' | 'misconfigured' }
    gateway: Record<string, unknown> & { status: string }
    worker: { status: 'ok' | 'down' | 'unknown' }
  }
}

/** What comes of a question within some time; `undefined` where nothing does. */
async function within<Result>(milliseconds: number, asked: Promise<Result>): Promise<Result | undefined> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<undefined>((resolve) => (timer = setTimeout(() => resolve(undefined), milliseconds)))
  return Promise.race([asked.catch(() => undefined), late]).finally(() => clearTimeout(timer))
}

/** One status per process and for the database. Never rejects: what cannot be asked is down or unknown. */
export async function readHealth(db: Database, gatewayControl: string, sessionsReady: boolean): Promise<Health> {
  const [gateway, signs] = await Promise.all([
    fetch(`${gatewayControl}/health`, { signal: AbortSignal.timeout(PATIENCE_MS) })
      .then((response) => response.json() as Promise<{ status: string }>)
      .catch(() => ({ status: 'down' })),
    // A database that was stopped takes the question and never answers it.
    within(
      PATIENCE_MS,
      db.sequelize.query<{ age: number }>(
        "SELECT TIMESTAMPDIFF(SECOND, seen_at, UTC_TIMESTAMP(3)) AS age FROM process_sign WHERE process = 'worker'",
        { type: QueryTypes.SELECT },
      ),
    ),
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
