import ipaddr from 'ipaddr.js'
import { RateLimiterMySQL, type RateLimiterRes } from 'rate-limiter-flexible'
import type { Sequelize } from 'sequelize'
import type { Database } from '../../database/open'
import { Problem } from '../problem'

const WINDOW_SECONDS = 15 * 60
/** As one member from one peer. Nobody elsewhere is locked out by it, whoever they try to be. */
const MOST_AS_ONE = 10
/** From one peer, whoever it tries to be. */
const MOST_FROM_ONE_PEER = 60

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

const limiters = new WeakMap<Database, { asOne: RateLimiterMySQL; fromPeer: RateLimiterMySQL }>()

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
    known = { asOne: limiter('one', MOST_AS_ONE), fromPeer: limiter('peer', MOST_FROM_ONE_PEER) }
    limiters.set(db, known)
  }
  return known
}

/** A peer as it is counted: an IPv6 subscriber has a whole /64 (RFC 6177), and may come from any address of it. */
export function networkOf(peer: string): string {
  if (!ipaddr.isValid(peer)) return peer
  const address = ipaddr.process(peer)
  if (address.kind() === 'ipv4') return address.toString()
  return (
    (address as ipaddr.IPv6).parts
      .slice(0, 4)
      .map((part) => part.toString(16))
      .join(':') + '::/64'
  )
}

/**
 * Counts a try to prove who one is before anything is verified, so that tries at the same moment count, too. Refuses
 * with 429 beyond ten as one member from one peer, or sixty from one peer, in a quarter of an hour; shared by all
 * processes. `refused` is told first.
 */
export async function countTry(db: Database, who: string, peer: string, refused?: () => Promise<void>): Promise<void> {
  const { asOne, fromPeer } = limitersOf(db)
  const network = networkOf(peer)
  try {
    await asOne.consume(`${who} ${network}`)
    await fromPeer.consume(network)
  } catch (refusal) {
    if (refusal instanceof Error) throw refusal
    // Told once, so that trying on and on writes nothing more.
    if ((refusal as RateLimiterRes).consumedPoints === MOST_AS_ONE + 1) await refused?.()
    const minutes = Math.max(1, Math.ceil((refusal as RateLimiterRes).msBeforeNext / 60_000))
    throw new Problem(
      429,
      'Too many tries',
      `Too many failed tries; wait ${minutes} ${minutes === 1 ? 'minute' : 'minutes'} and try again.`,
    )
  }
}

/** Forgets the tries of somebody who proved who they are. */
export async function forgetTries(db: Database, who: string, peer: string): Promise<void> {
  const { asOne, fromPeer } = limitersOf(db)
  const network = networkOf(peer)
  await Promise.all([asOne.delete(`${who} ${network}`), fromPeer.reward(network)])
}
