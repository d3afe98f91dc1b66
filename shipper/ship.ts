import mariadb, { type Connection, type ConnectionConfig } from 'mariadb'
import { faultInWords } from '../environment/log'
import { createNap } from '../environment/nap'
import { storeBatches, type Batch } from './batch'
import type { Segments } from './segments'

const PAUSE_MS = 300
/** So many visits go in one transaction, or one segment where that holds more. */
const EVENTS_AT_ONCE = 120_000
const SIGN_MS = 5000

export interface Shipper {
  /** Visits stored since the start. */
  readonly stored: number
  /** Ends after the transaction under way. */
  stop(): Promise<void>
}

/**
 * Takes waiting segments to the database, several in one transaction, for as long as it runs; starts over after any
 * fault. A segment goes from the disk only when its batch is stored, and a batch that is sent again counts once.
 */
export function ship(segments: Segments, config: ConnectionConfig, log: (line: string) => void): Shipper {
  let stopped = false
  let stored = 0
  let failing = false
  let signed = 0
  let connection: Connection | undefined
  const nap = createNap()

  async function connected(): Promise<Connection> {
    if (!connection?.isValid()) {
      connection = await mariadb.createConnection(config)
      connection.on('error', () => undefined)
    }
    return connection
  }

  /** Tells that it lives. */
  async function sign(to: Connection): Promise<void> {
    if (Date.now() - signed < SIGN_MS) return
    await to.query(
      "INSERT INTO process_sign (process, seen_at, starts) VALUES ('shipper', UTC_TIMESTAMP(3), 1) ON DUPLICATE KEY " +
        `UPDATE seen_at = VALUES(seen_at), starts = starts + ${signed === 0 ? 1 : 0}`,
    )
    signed = Date.now()
  }

  async function shipAll(): Promise<void> {
    const keys = await segments.ready()
    await sign(await connected())
    let batches: Batch[] = []
    let events = 0
    for (const [index, key] of keys.entries()) {
      if (stopped) return
      const batch = await segments.read(key)
      batches.push(batch)
      events += batch.events.length
      if (events < EVENTS_AT_ONCE && index < keys.length - 1) continue
      const to = await connected()
      // Read anew for each: an administrator may move the organisation to another time zone at any time.
      const [organisation] = await to.query('SELECT time_zone FROM organisation WHERE id = 1')
      stored += await storeBatches(to, batches, organisation?.time_zone ?? 'UTC')
      for (const { key: done } of batches) await segments.done(done)
      batches = []
      events = 0
      if (failing) log('visits are being stored again')
      failing = false
      await sign(to)
    }
    failing = false
  }

  async function run(): Promise<void> {
    while (!stopped) {
      try {
        await shipAll()
      } catch (error) {
        if (!failing) log(`visits wait in the spool (${faultInWords(error)})`)
        failing = true
        connection?.destroy()
        connection = undefined
      }
      if (!stopped) await nap.sleep(PAUSE_MS)
    }
    await connection?.end().catch(() => undefined)
  }

  const running = run()
  return {
    get stored() {
      return stored
    },
    async stop() {
      stopped = true
      nap.wake()
      await running
    },
  }
}
