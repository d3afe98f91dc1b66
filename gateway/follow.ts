import mariadb, { type Connection, type ConnectionConfig } from 'mariadb'
import { readRevision, TableFollower, type TableChange } from '../core/ledger-follower'
import type { Table } from '../core/table'
import { faultInWords } from '../environment/log'
import { createNap } from '../environment/nap'
import { readPrivacy, tableSource, queryOf } from './ledger'
import type { Privacy } from './observe'

/** How often the ledger is read, in milliseconds; a nudge reads it immediately. */
const POLL_MS = 200
const RETRY_MS = 1000

/** Until the database has said what the organisation stores. */
const MAX_PRIVATE: Privacy = { honourGpc: true, keepNetwork: false }

export interface Follower {
  /** The table to answer from; the same object is patched, a full load puts a new one in its place. */
  readonly table: Table
  /** The revision that the whole table has reached: scheduled changes are not in it yet. */
  readonly settledRevision: number
  /** What the organisation stores of visitors. */
  readonly privacy: Privacy
  /** Whether the database answered last time. */
  readonly connected: boolean
  /** When it last answered, in milliseconds; `undefined` where it has not yet. */
  readonly heardAt: number | undefined
  /** Reads the ledger now rather than at the next poll. */
  nudge(): void
  stop(): Promise<void>
}

export interface FollowOptions {
  connection: ConnectionConfig
  /** A table read from the snapshot, to serve from until the database answers. */
  start?: Table
  /** Called after every patch, with what changed and the links it is about. */
  patched?(table: Table, change: TableChange, ids: readonly number[]): void
  /** Called with a table that was loaded as a whole. */
  loaded?(table: Table): void
  log(line: string): void
}

/** Follows the ledger over a connection of its own, for as long as the process runs. */
export function follow(options: FollowOptions): Follower {
  let loaded = options.start !== undefined
  let connected = false
  let heardAt: number | undefined
  let privacy = MAX_PRIVATE
  let stopped = false
  let told = false
  let connection: Connection | undefined
  const nap = createNap()
  const query = queryOf(() => connection!)
  const follower: TableFollower = new TableFollower(
    tableSource(query),
    {
      patched: (change, ids) => options.patched?.(follower.table, change, ids),
      loaded: (table) => options.loaded?.(table),
      organisationChanged: async () => void (privacy = await readPrivacy(query)),
    },
    Date.now,
    options.start,
  )

  async function run(): Promise<void> {
    while (!stopped) {
      try {
        if (!connection?.isValid()) {
          connection = await mariadb.createConnection(options.connection)
          connection.on('error', () => undefined)
        }
        // A ledger behind our own table means that another database took the place of the one we followed.
        if (!loaded || (!connected && (await readRevision(query)) < follower.table.revision)) {
          await follower.load()
          loaded = true
        }
        await follower.catchUp()
        if (!connected) privacy = await readPrivacy(query)
        if (!connected) options.log(`following the ledger from revision ${follower.table.revision}`)
        connected = true
        heardAt = Date.now()
      } catch (error) {
        if (connected || (!loaded && !told))
          options.log(`database does not answer (${faultInWords(error)}); serving revision ${follower.table.revision}`)
        told = true
        connected = false
        connection?.destroy()
        connection = undefined
      }
      if (stopped) break
      await nap.sleep(connected ? POLL_MS : RETRY_MS)
    }
    await connection?.end().catch(() => undefined)
  }

  const running = run()
  return {
    get table() {
      // At the very time, on the first request: a timer would fire at another time in each process.
      if (follower.nextDue !== Infinity) follower.applyDue()
      return follower.table
    },
    get settledRevision() {
      return follower.settledRevision
    },
    get privacy() {
      return privacy
    },
    get connected() {
      return connected
    },
    get heardAt() {
      return heardAt
    },
    nudge: nap.wake,
    async stop() {
      stopped = true
      nap.wake()
      await running
    },
  }
}
