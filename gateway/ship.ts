import { createReadStream } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { createInterface } from 'node:readline'
import mariadb, { type Connection, type ConnectionConfig } from 'mariadb'
import { readEvent, type VisitEvent } from '../core/visits'
import { faultInWords } from '../environment/log'
import type { Cut } from '../core/misses'
import { storeBatch } from './batch'
import { storeCuts } from './misses'
import { createNap } from './nap'
import type { Spool } from './spool'

const PAUSE_MS = 500
/** After each batch the shipper rests this many times as long as it worked, so that visitors come first… */
const REST = 2
/** …and this many times while the event loop is busy for more than this share of its time. */
const REST_BUSY = 40
const BUSY = 0.7

export interface Shipper {
  /** How many batches wait, at the last look. */
  readonly waiting: number
  stop(): Promise<void>
}

/** Sends waiting batches to the database, one at a time, for as long as it runs; starts over after any fault. */
export function ship(
  spool: Spool,
  config: ConnectionConfig,
  log: (line: string) => void,
  takeCuts: () => Cut[] = () => [],
): Shipper {
  // What was cut and could not be told yet.
  let cuts: Cut[] = []
  let stopped = false
  let waiting = 0
  let connection: Connection | undefined
  const nap = createNap()
  let failing = false
  let loop = performance.eventLoopUtilization()

  async function connect(): Promise<void> {
    if (connection?.isValid()) return
    connection = await mariadb.createConnection(config)
    connection.on('error', () => undefined)
  }

  /** Tells what was not written one by one; what cannot be told now is told with the next. */
  async function tellCuts(): Promise<void> {
    cuts = joinCuts([...cuts, ...takeCuts()])
    if (cuts.length === 0) return
    await connect()
    await storeCuts(connection!, cuts)
    cuts = []
  }

  async function shipAll(): Promise<void> {
    const keys = await spool.ready()
    waiting = keys.length
    await tellCuts()
    for (const key of keys) {
      if (stopped) return
      await connect()
      const began = performance.now()
      // Read anew for each: an administrator may move the organisation to another time zone at any time.
      const [organisation] = await connection!.query('SELECT time_zone FROM organisation WHERE id = 1')
      await storeBatch(connection!, key, await readBatch(spool.file(key)), organisation?.time_zone ?? 'UTC')
      await spool.done(key)
      await tellCuts()
      waiting--
      if (failing) log('visits are being stored again')
      failing = false
      const { utilization } = performance.eventLoopUtilization(loop)
      loop = performance.eventLoopUtilization()
      if (!stopped) await nap.sleep((performance.now() - began) * (utilization > BUSY ? REST_BUSY : REST))
    }
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
    await tellCuts().catch(() => undefined)
    await connection?.end().catch(() => undefined)
  }

  const running = run()
  return {
    get waiting() {
      return waiting
    },
    async stop() {
      stopped = true
      nap.wake()
      await running
    },
  }
}

/** Cuts of one domain's hour as one, so that however long they wait they stay few. */
function joinCuts(cuts: readonly Cut[]): Cut[] {
  const joined = new Map<string, Cut>()
  for (const cut of cuts) {
    const key = `${cut.domainId} ${cut.hour}`
    const there = joined.get(key)
    if (there) there.requests += cut.requests
    else joined.set(key, { ...cut })
  }
  return [...joined.values()]
}

async function readBatch(file: string): Promise<VisitEvent[]> {
  const events: VisitEvent[] = []
  for await (const line of createInterface({ input: createReadStream(file, 'utf8') })) {
    const event = readEvent(line)
    if (event) events.push(event)
  }
  return events
}
