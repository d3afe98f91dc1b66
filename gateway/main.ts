import cluster from 'node:cluster'
import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import type { Server } from 'node:http'
import { connectionConfig } from '../environment/database-url'
import { faultInWords, makeLog } from '../environment/log'
import { readEnvironment } from '../environment/read'
import { deriveKey, reachProof } from '../environment/secrets'
import { gatewayVariables } from '../environment/variables'
import { Admission } from '../core/misses'
import { countLinks } from '../core/table'
import { adoptSpools } from './adopt'
import { createControl } from './control'
import { openCountries } from './country'
import { follow } from './follow'
import { Likely, NO_OFFERS, offersOf } from './likely'
import { createObserver } from './observe'
import { createGateway } from './server'
import { ship } from './ship'
import { readSnapshot, writeSnapshot } from './snapshot'
import { Spool } from './spool'
import { VisitorKey } from './visitor-key'

/** A changed table goes to disk at most this often. */
const SNAPSHOT_MS = 5000

const environment = readEnvironment(gatewayVariables)
const number = cluster.worker?.id ?? 1
const logger = makeLog(`gateway ${number}`)
const log = (line: string) => logger.info(line)

if (environment.FIDES_GATEWAY_PROCESSES > 1 && cluster.isPrimary) startProcesses(environment.FIDES_GATEWAY_PROCESSES)
else await serve()

/** One serving process a core. Each has a numbered place for its spool; a new one takes the place of one that died. */
function startProcesses(count: number): void {
  const place = new Map<number, number>()
  let stopping = false
  const start = (at: number) => place.set(cluster.fork({ FIDES_GATEWAY_PLACE: String(at) }).id, at)
  cluster.on('exit', (worker) => {
    if (!stopping) setTimeout(() => start(place.get(worker.id)!), 200)
  })
  for (let at = 1; at <= count; at++) start(at)
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      stopping = true
      for (const worker of Object.values(cluster.workers ?? {})) worker?.kill('SIGTERM')
    })
  }
}

async function serve(): Promise<void> {
  const began = performance.now()
  const at = process.env.FIDES_GATEWAY_PLACE ?? '1'
  const folder = join(environment.FIDES_GATEWAY_STATE, at)
  await mkdir(join(folder, 'spool'), { recursive: true, mode: 0o700 })
  if (at === '1') {
    const taken = await adoptSpools(environment.FIDES_GATEWAY_STATE, at, environment.FIDES_GATEWAY_PROCESSES)
    if (taken > 0) log(`took over ${taken} segments of visits from processes that serve no more`)
  }
  const snapshotFile = join(folder, 'table.snapshot')
  const connection = connectionConfig(environment.FIDES_DATABASE_URL)

  const [start, countryOf] = await Promise.all([readSnapshot(snapshotFile), openCountries()])
  const spool = await Spool.open(join(folder, 'spool'), (error) =>
    log(`the spool cannot be written: ${faultInWords(error)}`),
  )
  const visitorKey = new VisitorKey(connection)
  const snapshots = snapshotWriter(snapshotFile)
  const likely = new Likely(connection, log)
  const admission = new Admission()
  const follower = follow({
    connection,
    start,
    changed: snapshots.soon,
    loaded: (table) => void likely.load(table),
    patched: (table, gone, put) => likely.change(table, gone, put),
    log,
  })
  if (start) void likely.load(start)
  const shipper = ship(spool, connection, log, () => admission.takeCuts(Date.now()))
  const observe = createObserver({
    admission,
    secretAt: (now) => visitorKey.at(now),
    countryOf,
    trustedProxies: environment.FIDES_TRUSTED_PROXIES,
  })

  const reachKey = deriveKey(environment.FIDES_SECRET, 'reach')
  const server = createGateway({
    table: () => follower.table,
    reachProof: (host, nonce) => reachProof(reachKey, host, nonce),
    offers: (table, { domainId, canonical }) => {
      if (table.domains.get(domainId)?.domain.pages.offers === false) return NO_OFFERS
      const ranked = likely.ask(domainId, canonical)
      return ranked instanceof Promise
        ? ranked.then((candidates) => offersOf(table, domainId, candidates))
        : offersOf(table, domainId, ranked)
    },
    answered: (request, fields, answer, now) => {
      const line = observe(request.socket, request.method!, fields, answer, now)
      if (line !== undefined) spool.push(line)
    },
  })
  await untilTable()
  await listen(server, environment.FIDES_GATEWAY_PORT, environment.FIDES_GATEWAY_HOST)
  const control = createControl(follower, shipper, likely)
  await listen(control, environment.FIDES_GATEWAY_CONTROL_PORT, '127.0.0.1')
  const seconds = ((performance.now() - began) / 1000).toFixed(2)
  log(
    `serving ${countLinks(follower.table)} links at revision ${follower.table.revision} on ` +
      `${environment.FIDES_GATEWAY_HOST}:${environment.FIDES_GATEWAY_PORT} after ${seconds} s`,
  )

  let stopping = false
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      if (stopping) return
      stopping = true
      void stop()
    })
  }

  async function stop(): Promise<void> {
    control.close()
    control.closeAllConnections()
    const closed = new Promise((resolve) => server.close(resolve))
    server.closeIdleConnections()
    setTimeout(() => server.closeAllConnections(), 2000).unref()
    await closed
    await follower.stop()
    await likely.stop()
    await spool.close()
    await shipper.stop()
    await snapshots.now(follower.table)
    process.exit(0)
  }

  /**
   * Without a snapshot the gateway waits for the database: an empty table would answer 421 for every printed address.
   */
  async function untilTable(): Promise<void> {
    while (!start && !follower.connected) await new Promise((resolve) => setTimeout(resolve, 20))
  }

  function snapshotWriter(file: string) {
    let timer: NodeJS.Timeout | undefined
    let writing = Promise.resolve()
    const now = (table: ReturnType<typeof follow>['table']) => {
      clearTimeout(timer)
      timer = undefined
      writing = writing
        .then(() => writeSnapshot(file, table))
        .catch((error: Error) => void log(`the snapshot cannot be written: ${faultInWords(error)}`))
      return writing
    }
    return { now, soon: () => (timer ??= setTimeout(() => void now(follower.table), SNAPSHOT_MS)) }
  }
}

function listen(server: Server, port: number, host: string): Promise<void> {
  return new Promise((resolve) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      log(
        error.code === 'EADDRINUSE'
          ? `port ${port} on ${host} is in use; set another or stop what uses it`
          : faultInWords(error),
      )
      process.exit(1)
    })
    server.listen(port, host, 4096, resolve)
  })
}
