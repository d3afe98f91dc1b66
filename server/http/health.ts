import { QueryTypes } from 'sequelize'
import type { Database } from '../database/open'

/** How long a worker may be silent, in seconds. */
const SILENCE_SECONDS = 20

/** So many batches of visits may wait on their way without a word. */
const MOST_WAITING = 20

/** Nobody who asks for the health waits longer than this for any part of it. */
const PATIENCE_MS = 1500

export interface Health {
  status: 'ok' | 'degraded'
  /** What is not as it is now, and since when; one sentence each. */
  stale: string[]
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

interface GatewayAnswer {
  status: string
  heardAt?: string | null
  spooledBatches?: number
}

/** One status per process and for the database. Never rejects: what cannot be asked is down or unknown. */
export async function readHealth(db: Database, gatewayControl: string, sessionsReady: boolean): Promise<Health> {
  const [gateway, signs] = await Promise.all([
    fetch(`${gatewayControl}/health`, { signal: AbortSignal.timeout(PATIENCE_MS) })
      .then((response) => response.json() as Promise<GatewayAnswer>)
      .catch((): GatewayAnswer => ({ status: 'down' })),
    // A database that was stopped takes the question and never answers it.
    within(
      PATIENCE_MS,
      db.sequelize.query<{ age: number; seenAt: Date }>(
        'SELECT TIMESTAMPDIFF(SECOND, seen_at, UTC_TIMESTAMP(3)) AS age, seen_at AS seenAt FROM process_sign ' +
          "WHERE process = 'worker'",
        { type: QueryTypes.SELECT },
      ),
    ),
  ])
  const sign = signs?.[0]
  const worker = signs === undefined ? 'unknown' : sign && Number(sign.age) <= SILENCE_SECONDS ? 'ok' : 'down'
  const database = signs === undefined ? 'down' : 'ok'
  const admin = sessionsReady ? 'ok' : 'misconfigured'
  const stale = [
    ...(database === 'down' ? ['The database does not answer: the desk can neither show nor change anything.'] : []),
    ...(gateway.status === 'down'
      ? ['The gateway’s control port does not answer: what visitors get is not known.']
      : []),
    ...(gateway.status === 'without-database'
      ? [
          gateway.heardAt
            ? `The gateway answers visitors from memory, with the links as they were at ${moment(gateway.heardAt)}.`
            : 'The gateway answers visitors from its snapshot, with the links as they were before it was started.',
        ]
      : []),
    ...(worker === 'down'
      ? [
          sign
            ? `The worker does not run: docket, domains and figures are as they were at ${moment(sign.seenAt)}.`
            : 'The worker has not run yet: nothing is in the docket, and no domain was looked at.',
        ]
      : []),
    ...((gateway.spooledBatches ?? 0) > MOST_WAITING
      ? [`${gateway.spooledBatches} batches of visits wait to be stored: figures of visits are behind by them.`]
      : []),
  ]
  return {
    status: database === 'ok' && gateway.status === 'ok' && worker === 'ok' && admin === 'ok' ? 'ok' : 'degraded',
    stale,
    database: { status: database },
    processes: { admin: { status: admin }, gateway: { ...gateway }, worker: { status: worker } },
  }
}

const moment = (at: string | Date) => `${new Date(at).toISOString().slice(0, 16).replace('T', ' ')} UTC`
