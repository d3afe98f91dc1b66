import cluster from 'node:cluster'
import { randomBytes } from 'node:crypto'
import { mkdir } from 'node:fs/promises'
import { Server as NetServer } from 'node:net'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import type { Logger } from 'pino'
import type { z } from 'zod'
import { Admission, writeCut } from '../core/misses'
import { countLinks, type Table } from '../core/table'
import { writePresence } from '../core/visits'
import { connectionConfig } from '../environment/database-url'
import { listen } from './listen'
import { faultInWords } from '../environment/log'
import { deriveKey, reachProof } from '../environment/secrets'
import { registerServing } from '../environment/serving-folder'
import { spoolFolder } from '../environment/spool-folder'
import type { gatewayVariables } from '../environment/variables'
import { agreeVisitorKey } from './agree-visitor-key'
import { openCountries } from './country'
import { follow } from './follow'
import { Journal } from './journal'
import { Likely, NO_OFFERS, offersOf } from './likely'
import { isOurs, type ServingStatus, type ToLead, type ToServing } from './messages'
import { Meter } from './metrics'
import { createObserver } from './observe'
import { trustedBy } from '../environment/peer'
import { createGateway } from './server'
import { readSnapshot, removePartials, snapshotKeeper } from './snapshot'
import { Spool } from './spool'
import { VisitorKey } from './visitor-key'

/** That it is there is told so often: several times in each quarter-hour. */
const PRESENT_MS = 240_000
/** So long the first visitor waits at most for the secret that tells visitors apart. */
const KEY_PATIENCE_MS = 500
/** What was cut is told so often. */
const CUTS_MS = 5000

/** A serving process: answers visitors from memory, follows the ledger, writes visits to the spool. */
export async function serve(environment: z.output<typeof gatewayVariables>, logger: Logger): Promise<void> {
  const log = (line: string) => logger.info(line)
  const began = performance.now()
  const folder = join(environment.FIDES_GATEWAY_STATE, process.env.FIDES_GATEWAY_PLACE ?? '1')
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const connection = connectionConfig(environment.FIDES_GATEWAY_DATABASE_URL ?? environment.FIDES_DATABASE_URL)
  const tell = (message: ToLead) => process.connected && process.send!(message)

  const snapshotFile = join(folder, 'table.snapshot')
  const journal = new Journal(join(folder, 'table.journal'), (error) =>
    log(`the journal cannot be written: ${faultInWords(error)}`),
  )
  const [start, countryOf] = await Promise.all([readSnapshot(snapshotFile), openCountries()])
  await removePartials(snapshotFile)
  const isWhole = start ? await journal.replay(start) : true
  const spool = await Spool.open(spoolFolder(environment.FIDES_GATEWAY_STATE), (error) =>
    log(`the spool cannot be written: ${faultInWords(error)}`),
  )
  const visitorKey = new VisitorKey(
    (day) => agreeVisitorKey(connection, day),
    () => randomBytes(32),
  )
  const keyed = visitorKey.ready(Date.now())
  const likely = new Likely(connection, log)
  const admission = new Admission()
  const tellCuts = () => {
    for (const cut of admission.takeCuts(Date.now())) spool.push(writeCut(cut))
  }
  const cutting = setInterval(tellCuts, CUTS_MS)
  // Where nobody visits, it is told all the same that somebody was there to count.
  const tellPresence = () => {
    const now = Date.now()
    visitorKey.at(now)
    spool.push(writePresence(now))
  }
  tellPresence()
  const present = setInterval(tellPresence, PRESENT_MS)
  const onDisk = { table: () => follower.table, revision: () => follower.settledRevision }
  const snapshots = snapshotKeeper(snapshotFile, journal, onDisk, log)
  const follower = follow({
    connection,
    start,
    loaded(table) {
      snapshots.soon()
      tellOpenHosts(table)
      void likely.load(table)
    },
    patched(table, change, ids) {
      snapshots.note(change)
      if (change.domains) tellOpenHosts(table)
      if (ids.length > 0) likely.change(table, ids, change.links)
    },
    log,
  })
  if (start) {
    void likely.load(start)
    tellOpenHosts(start)
  }
  if (!isWhole) snapshots.soon()
  const isTrusted = trustedBy(environment.FIDES_TRUSTED_PROXIES)
  const observe = createObserver({
    admission,
    secretAt: (now) => visitorKey.at(now),
    countryOf,
    trustedProxies: environment.FIDES_TRUSTED_PROXIES,
    privacy: () => follower.privacy,
  })
  const meter = new Meter()
  meter.register(status, () => spool.lost)
  const reachKey = deriveKey(environment.FIDES_SECRET, 'reach')
  let draining = false
  let unregister: () => void = () => undefined
  const server = createGateway({
    table: () => follower.table,
    draining: () => draining,
    isTrusted,
    reachProof: (host, nonce) => reachProof(reachKey, host, nonce),
    offers: (table, { domainId, canonical }) => {
      if (table.domains.get(domainId)?.domain.pages.offers === false) return NO_OFFERS
      const ranked = likely.ask(domainId, canonical)
      return ranked instanceof Promise
        ? ranked.then((candidates) => offersOf(table, domainId, candidates))
        : offersOf(table, domainId, ranked)
    },
    answered: (request, fields, answer, now) => {
      const line = observe(request.socket, request.method!, fields, answer, now, request.url)
      if (line !== undefined) spool.push(line)
    },
    measured: (outcome, milliseconds) => meter.count(outcome, milliseconds),
  })

  listenToLead()
  await untilTable()
  await Promise.race([keyed, pause(KEY_PATIENCE_MS, undefined, { ref: false })])
  const fd = process.env.FIDES_GATEWAY_FD
  await listen(
    server,
    fd === undefined ? environment.FIDES_GATEWAY_PORT : { fd: Number(fd) },
    environment.FIDES_GATEWAY_HOST,
    log,
  )
  unregister = registerServing(environment.FIDES_GATEWAY_STATE)
  tell({ type: 'serving' })
  log(
    `serving ${countLinks(follower.table)} links at revision ${follower.table.revision} on ` +
      `${environment.FIDES_GATEWAY_HOST}:${environment.FIDES_GATEWAY_PORT} after ` +
      `${((performance.now() - began) / 1000).toFixed(2)} s`,
  )

  function status(): ServingStatus {
    return {
      connected: follower.connected,
      revision: follower.table.revision,
      heardAt: follower.heardAt ?? null,
      links: countLinks(follower.table),
      heapBytes: process.memoryUsage().heapUsed,
      likely: likely.figures,
    }
  }

  function tellOpenHosts(table: Table): void {
    const hosts = [...table.domains.values()].flatMap(({ domain }) =>
      domain.open && !domain.issuerShutOut ? [domain.host] : [],
    )
    tell({ type: 'open-hosts', hosts })
  }

  function listenToLead(): void {
    process.on('message', (message: unknown) => {
      if (!isOurs<ToServing>(message)) return
      if (message.type === 'nudge') follower.nudge()
      else if (message.type === 'status') tell({ type: 'status', id: message.id, status: status() })
      else if (message.type === 'drain') void stop(message.patienceMs)
    })
    // Where the one that leads was killed, this one goes on: it has the port, and the next one that leads finds it.
    cluster.worker!.exitedAfterDisconnect = true
    process.once('disconnect', () => log('the leading process ended; serving on until another takes over'))
    for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => void stop(2000))
    // Fresh processes serve: whoever is connected is served to the end.
    process.on('SIGUSR2', () => void stop(HANDOVER_PATIENCE_MS))
  }

  /**
   * Takes no new connection, ends each that is kept with the next answer, and goes when none is left or patience has
   * run out. Idle ones are left to their own clock: closing one might cross with a request on its way.
   */
  async function stop(patienceMs: number): Promise<void> {
    if (draining) return
    draining = true
    const give = Date.now() + patienceMs
    // Not the one of HTTP, which would close idle connections at once.
    const closed = new Promise((resolve) => NetServer.prototype.close.call(server, resolve))
    const watch = setInterval(() => {
      if (Date.now() > give - IDLE_MS) server.closeIdleConnections()
      if (Date.now() > give) server.closeAllConnections()
    }, 50)
    await closed
    clearInterval(watch)
    clearInterval(cutting)
    clearInterval(present)
    tellCuts()
    await spool.close()
    await follower.stop()
    await likely.stop()
    await snapshots.settle()
    unregister()
    process.exit(0)
  }

  /**
   * Without a snapshot the gateway waits for the database: an empty table would answer 421 for every printed address.
   */
  async function untilTable(): Promise<void> {
    while (!start && !follower.connected) await new Promise((resolve) => setTimeout(resolve, 20))
  }
}

/** So long kept connections may go on after a handover: one that is idle is closed by its own clock within. */
export const HANDOVER_PATIENCE_MS = 20_000
/** Idle connections are closed so long before patience runs out. */
const IDLE_MS = 1500
