import { RateLimiterMySQL, type RateLimiterRes } from 'rate-limiter-flexible'
import type { Sequelize } from 'sequelize'
import type { Database } from '../../database/open'
import { Problem } from '../problem'

const WINDOW_SECONDS = 15 * 60
const MOST_FROM_ONE_PEER = 10
/** From everywhere together; higher, so that a stranger alone cannot lock a member out. */
const MOST_FROM_ALL = 50

type Callback = (error: unknown, result?: unknown) => void
interface DriverConnection {
  query(sql: string, values?: unknown[]): Promise<unknown>
  rollback(): Promise<void>
}

/** The limiter's store over our own pool: it speaks the callbacks and the name marks (`??`) of another driver. */
function clientOf(sequelize: Sequelize) {
  const manager = (
    sequelize as unknown as {
      connectionManager: {
        getConnection(options: { type: string }): Promise<DriverConnection>
        releaseConnection(connection: DriverConnection): void
      }
    }
  ).connectionManager
  return {
    getConnection: (input: Callback) =>
      void manager.getConnection({ type: 'write' }).then((connection) => {
        input(null, {
          query(sql: string, values: unknown, end: Callback) {
            const [list, callback] =
              typeof values === 'function' ? [[], values as Callback] : [values as unknown[], end]
            const names = list.slice(0, sql.split('??').length - 1)
            let at = 0
            const text = sql.replaceAll('??', () => `\`${String(names[at++])}\``)
            connection.query(text, list.slice(names.length)).then((rows) => callback(null, rows), callback)
          },
          rollback: () => void connection.rollback().catch(() => undefined),
          release: () => manager.releaseConnection(connection),
        })
      }, input),
  }
}

const limiters = new WeakMap<Database, { fromOne: RateLimiterMySQL; fromAll: RateLimiterMySQL }>()

function limitersOf(db: Database) {
  let known = limiters.get(db)
  if (!known) {
    const limiter = (keyPrefix: string, points: number) =>
      new RateLimiterMySQL({
        storeClient: clientOf(db.sequelize),
        storeType: 'pool',
        dbName: db.sequelize.getDatabaseName(),
        tableName: 'sign_in_try',
        tableCreated: true,
        keyPrefix,
        points,
        duration: WINDOW_SECONDS,
      })
    known = { fromOne: limiter('one', MOST_FROM_ONE_PEER), fromAll: limiter('all', MOST_FROM_ALL) }
    limiters.set(db, known)
  }
  return known
}

/**
 * Counts a try to sign in as somebody before anything is verified, so that tries at the same moment count, too. Refuses
 * with 429 beyond ten from one peer, or fifty from all, in a quarter of an hour; shared by all processes.
 */
export async function countTry(db: Database, who: string, peer: string): Promise<void> {
  const { fromOne, fromAll } = limitersOf(db)
  try {
    await fromOne.consume(`${who} ${peer}`)
    await fromAll.consume(who)
  } catch (refusal) {
    if (refusal instanceof Error) throw refusal
    const minutes = Math.max(1, Math.ceil((refusal as RateLimiterRes).msBeforeNext / 60_000))
    throw new Problem(
      429,
      'Too many tries',
      `Too many failed tries; wait ${minutes} ${minutes === 1 ? 'minute' : 'minutes'} and try again.`,
    )
  }
}

/** Forgets the tries of somebody who signed in. */
export async function forgetTries(db: Database, who: string, peer: string): Promise<void> {
  const { fromOne, fromAll } = limitersOf(db)
  await Promise.all([fromOne.delete(`${who} ${peer}`), fromAll.delete(who)])
}
