import { QueryTypes } from 'sequelize'
import { mayAct, type Role } from '../../core/schemas'
import type { Database } from '../database/open'

/** How long a process that gives signs of life may be silent, in seconds. */
const SILENCE_SECONDS = 20

/** So many batches of visits may wait on their way without a word. */
const MAX_WAITING = 20

/** Nobody who asks for the health waits longer than this for any part of it. */
const PATIENCE_MS = 1500

export interface Health {
  status: 'ok' | 'degraded'
  /** What is not as it is now, and since when; one sentence each. */
  stale: string[]
  database: { status: 'ok' | 'down' }
  processes: {
    admin: { status: 'ok' }
    gateway: Record<string, unknown> & { status: string }
    worker: { status: ProcessStatus }
    shipper: { status: ProcessStatus }
  }
}

type ProcessStatus = 'ok' | 'down' | 'unknown'

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

/** What somebody is told: strangers whether all is well, members what is not, administrators everything. */
export function healthFor(health: Health, role: Role | undefined): Partial<Health> {
  const { status, stale } = health
  return role === undefined ? { status } : mayAct(role, 'administrator') ? health : { status, stale }
}

/** One status per process and for the database. Never rejects: what cannot be asked is down or unknown. */
export async function readHealth(db: Database, gatewayControl: string): Promise<Health> {
  const [gateway, signs] = await Promise.all([
    fetch(`${gatewayControl}/health`, { signal: AbortSignal.timeout(PATIENCE_MS) })
      .then((response) => response.json() as Promise<GatewayAnswer>)
      .catch((): GatewayAnswer => ({ status: 'down' })),
    // A database that was stopped takes the question and never answers it.
    within(
      PATIENCE_MS,
      db.sequelize.query<{ process: string; age: number; seenAt: Date }>(
        'SELECT process, TIMESTAMPDIFF(SECOND, seen_at, UTC_TIMESTAMP(3)) AS age, seen_at AS seenAt FROM process_sign',
        { type: QueryTypes.SELECT },
      ),
    ),
  ])
  const signOf = (name: string) => signs?.find(({ process }) => process === name)
  const statusOf = (name: string): ProcessStatus => {
    const given = signOf(name)
    return signs === undefined ? 'unknown' : given && Number(given.age) <= SILENCE_SECONDS ? 'ok' : 'down'
  }
  const worker = statusOf('worker')
  const shipper = statusOf('shipper')
  const sign = signOf('worker')
  const shipped = signOf('shipper')
  const database = signs === undefined ? 'down' : 'ok'
  const stale = [
    ...(database === 'down' ? ['The database is not responding. Nothing can be shown or changed.'] : []),
    ...(gateway.status === 'down' ? ['The gateway’s control port is not responding, so its state is unknown.'] : []),
    ...(gateway.status === 'without-database'
      ? [
          gateway.heardAt
            ? 'The gateway cannot reach the database. It serves visitors from memory, with the links as of ' +
              `${moment(gateway.heardAt)}.`
            : 'The gateway answers visitors from its snapshot, with the links as they were before it was started.',
        ]
      : []),
    ...(worker === 'down'
      ? [
          sign
            ? `Background jobs have stopped. Docket, domains and figures are as of ${moment(sign.seenAt)}.`
            : 'The worker has not run yet: nothing is in the docket, and no domain was looked at.',
        ]
      : []),
    ...(shipper === 'down'
      ? [
          shipped
            ? `Visits since ${moment(shipped.seenAt)} are stored but not counted yet: the shipper has stopped.`
            : 'The shipper has not run yet: no visit is counted.',
        ]
      : []),
    ...((gateway.spooledBatches ?? 0) > MAX_WAITING
      ? [`${gateway.spooledBatches} batches of visits wait to be stored: figures of visits are behind by them.`]
      : []),
  ]
  return {
    status: [database, gateway.status, worker, shipper].every((each) => each === 'ok') ? 'ok' : 'degraded',
    stale,
    database: { status: database },
    processes: {
      admin: { status: 'ok' },
      gateway: { ...gateway },
      worker: { status: worker },
      shipper: { status: shipper },
    },
  }
}

const moment = (at: string | Date) => `${new Date(at).toISOString().slice(0, 16).replace('T', ' ')} UTC`
