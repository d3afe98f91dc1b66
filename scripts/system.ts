import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { AccessDeniedError, ConnectionError } from 'sequelize'
import { Backoff } from '../environment/backoff'
import { readEnvironment } from '../environment/read'
import { adminVariables, gatewayVariables, shipperVariables, workerVariables } from '../environment/variables'
import { openDatabase, type Database } from '../server/database/open'
import { migrate } from '../server/database/migrate'
import { bindSocket, type BoundSocket } from '../environment/bound-socket'
import { addressesOf, startMariaDb, type PrivateMariaDb } from './mariadb'
import { freeMegabytes } from './free-megabytes'
import { portsOf } from './own-ports'
import { requirePorts } from './ports'
import type { SystemSettings } from './settings'
import { stopServings } from './stop-servings'
import { httpOrigin, startNode, untilAnswers, type Running } from './processes'

/** A small nursery: what lives long moves on in short pauses, which requests feel less than a few long ones. */
const ADMIN = ['--max-semi-space-size=4', '.output/server/index.mjs']
/** The same for the worker, and a heap that grows by little: its index of all links takes a third less memory so. */
export const WORKER = ['--max-semi-space-size=4', '--heap-growing-percent=30', 'dist/worker.mjs']
/** A database that is away is tried again so often. */
const RETRY_MS = 2000

/** Whether a database is away, not ours to use or half migrated. */
const isAway = (error: unknown) => error instanceof ConnectionError && !(error instanceof AccessDeniedError)

/** A running Fides: what a start command started, in order, to be stopped in the opposite one. */
export class System {
  readonly processes: Running[] = []
  private server: PrivateMariaDb | undefined
  private startingDatabase: Promise<void> | undefined
  private opened: Database | undefined
  databaseUrl = ''
  /** The database as processes of less right reach it; of a database of one's own the operator says so. */
  private least: Record<'gateway' | 'shipper', string> | undefined
  private stopping: Promise<void> | undefined
  private gatewayPort: BoundSocket | undefined
  private readonly backoff = new Backoff()
  /** Everything answers: from now on what ends by itself is started again. */
  private ready = false
  private readonly timers = new Set<NodeJS.Timeout>()

  constructor(
    readonly settings: SystemSettings,
    readonly print: (line: string, level?: 'info' | 'warn' | 'error') => void,
  ) {}

  get databaseFolder() {
    return join(this.settings.folder, 'mariadb')
  }
  get adminAddress() {
    return httpOrigin(this.settings.FIDES_ADMIN_HOST, this.settings.FIDES_ADMIN_PORT)
  }
  get gatewayAddress() {
    return httpOrigin(this.settings.FIDES_GATEWAY_HOST, this.settings.FIDES_GATEWAY_PORT)
  }

  /**
   * Reads the environment of every process as it will: a bad value stops the start before anything listens or is
   * written, with one line that names each.
   */
  checkVariables(more: Record<string, string> = {}): void {
    const environment = { ...process.env, ...this.environment(more) }
    // The private database's address is made at its start.
    environment.FIDES_DATABASE_URL = this.settings.FIDES_DATABASE_URL ?? 'mariadb://made:at@the.start/fides'
    for (const schema of [gatewayVariables, shipperVariables, workerVariables, adminVariables])
      readEnvironment(schema, environment)
  }

  /** Refuses to start where a port is in use. */
  checkPorts(more: Parameters<typeof requirePorts>[0] = []): Promise<void> {
    return requirePorts([...more, ...portsOf(this.settings)])
  }

  /** Starts MariaDB in its private folder, unless FIDES_DATABASE_URL names another, and brings it to today's form. */
  async startDatabase(): Promise<Database> {
    if (this.settings.FIDES_DATABASE_URL) this.databaseUrl = this.settings.FIDES_DATABASE_URL
    else {
      const server = await startMariaDb(this.databaseFolder, this.settings.FIDES_DATABASE_PORT)
      this.keepDatabase(server)
      this.databaseUrl = server.url
    }
    await this.opened?.sequelize.close().catch(() => undefined)
    this.opened = openDatabase(this.databaseUrl, { poolSize: 4 })
    const done = await migrate(this.opened.sequelize)
    if (done.length > 0) this.print(`database: ran ${done.join(', ')}`)
    this.least = await this.server?.letLeastIn()
    return this.opened
  }

  /** Environment of every process, beside what the operator set. */
  environment(more: Record<string, string> = {}): Record<string, string> {
    const { settings } = this
    return {
      FIDES_DATABASE_URL: this.databaseUrl,
      ...(this.least && {
        FIDES_GATEWAY_DATABASE_URL: this.least.gateway,
        FIDES_SHIPPER_DATABASE_URL: this.least.shipper,
      }),
      FIDES_GATEWAY_HOST: settings.FIDES_GATEWAY_HOST,
      FIDES_GATEWAY_PORT: String(settings.FIDES_GATEWAY_PORT),
      FIDES_GATEWAY_CONTROL_PORT: String(settings.FIDES_GATEWAY_CONTROL_PORT),
      FIDES_GATEWAY_STATE: join(settings.folder, 'gateway'),
      FIDES_SECRET: process.env.FIDES_SECRET ?? this.secret('installation-secret'),
      NITRO_HOST: settings.FIDES_ADMIN_HOST,
      NITRO_PORT: String(settings.FIDES_ADMIN_PORT),
      NODE_ENV: 'production',
      // Threads that come and go leave their memory to the next ones, instead of each to one of its own.
      MALLOC_ARENA_MAX: '2',
      ...more,
    }
  }

  /** A secret made once and kept beside the data. */
  secret(name: string): string {
    const file = join(this.settings.folder, name)
    mkdirSync(this.settings.folder, { recursive: true })
    if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
    return readFileSync(file, 'utf8')
  }

  /**
   * Starts one process. Should it end by itself while the system starts, all stops; afterwards it alone is started
   * again, after a while that doubles, and nothing else is touched.
   */
  start(name: string, args: string[], more: Record<string, string> = {}, program?: string): Running {
    const began = Date.now()
    // The port of the gateway outlives its processes: whoever is started again listens on the same one.
    if (name === 'gateway')
      this.gatewayPort ??= bindSocket(this.settings.FIDES_GATEWAY_HOST, this.settings.FIDES_GATEWAY_PORT)
    const descriptor = name === 'gateway' ? this.gatewayPort?.fd : undefined
    const running = startNode(
      name,
      args,
      this.environment({ ...more, ...(descriptor !== undefined && { FIDES_GATEWAY_LISTEN_FD: '3' }) }),
      (line) => this.print(line.startsWith(name) || line.startsWith('{') ? line : `${name}: ${line}`),
      (ended, code, signal) => {
        if (this.stopping) return
        this.processes.splice(this.processes.indexOf(running), 1)
        const how = signal === null ? `exit code ${code}` : `signal ${signal}`
        if (!this.ready) {
          this.print(`${ended} ended unexpectedly (${how}); stopping the rest`, 'error')
          return void this.stop().then(() => process.exit(1))
        }
        const waitMs = this.backoff.next(name, Date.now() - began, signal !== null)
        this.print(`${ended} ended unexpectedly (${how}); restarting it in ${waitMs / 1000} s`, 'warn')
        this.later(waitMs, () => void this.start(name, args, more, program))
      },
      program,
      descriptor,
    )
    running.again = () => void this.start(name, args, more, program)
    this.processes.push(running)
    return running
  }

  /** Stops one process and starts it anew, from the files that are there now. */
  async restart(name: string): Promise<void> {
    const running = this.processes.find((one) => one.name === name)
    if (!running || this.stopping) return
    this.processes.splice(this.processes.indexOf(running), 1)
    await running.stop()
    running.again()
  }

  private later(waitMs: number, act: () => void): void {
    const timer = setTimeout(() => {
      this.timers.delete(timer)
      act()
    }, waitMs)
    this.timers.add(timer)
  }

  /** Starts the private database again whenever it ends by itself. */
  private keepDatabase(server: PrivateMariaDb): void {
    const began = Date.now()
    this.server = server
    void server.ended.then((signal) => {
      if (this.stopping || this.server !== server) return
      const waitMs = this.backoff.next('database', Date.now() - began, signal !== null)
      this.print(`database ended unexpectedly; restarting it in ${waitMs / 1000} s`, 'warn')
      this.later(waitMs, () => this.startDatabaseAgain())
    })
  }

  private startDatabaseAgain(): void {
    this.startingDatabase = startMariaDb(this.databaseFolder, this.settings.FIDES_DATABASE_PORT).then(
      (server) => this.keepDatabase(server),
      (error: Error) => {
        if (this.stopping) return
        const waitMs = this.backoff.next('database', 0)
        this.print(`database cannot be started (${error.message}); trying again in ${waitMs / 1000} s`, 'warn')
        this.later(waitMs, () => this.startDatabaseAgain())
      },
    )
  }

  /**
   * On a disk with less than `megabytes` free starts the gateway alone, from its snapshot, and returns once there is
   * space for what writes: the database, the desk, the worker and the shipper.
   */
  async serveUntilThereIsSpace(megabytes: number, more: Record<string, string> = {}): Promise<void> {
    if (freeMegabytes(this.settings.folder) >= megabytes) return
    if (this.settings.FIDES_DATABASE_URL) this.databaseUrl = this.settings.FIDES_DATABASE_URL
    else {
      const { url, least } = addressesOf(this.databaseFolder, this.settings.FIDES_DATABASE_PORT)
      this.databaseUrl = url
      this.least = least
    }
    this.print(
      `the disk is nearly full: ${freeMegabytes(this.settings.folder)} MB are free, ${megabytes} MB are needed. ` +
        'The gateway serves from its snapshot; database, desk, worker and shipper start once there is space',
      'error',
    )
    this.start('gateway', ['dist/gateway.mjs'], more)
    // From here on one that ends is restarted, and nothing else ends with it.
    this.ready = true
    while (freeMegabytes(this.settings.folder) < megabytes)
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS))
    this.print('there is space again: starting the rest')
  }

  /**
   * The same, where another machine's database may be away: the gateway then serves from its snapshot and the desk says
   * so, until it answers. Only then is it brought to today's form and the worker started.
   */
  async startDatabaseOrWait(more: Record<string, string> = {}): Promise<Database> {
    try {
      return await this.startDatabase()
    } catch (error) {
      if (!this.settings.FIDES_DATABASE_URL || !isAway(error)) throw error
      this.print(
        `the database does not answer (${(error as Error).message.split('\n')[0]}); starting the gateway from its ` +
          'snapshot and the desk, and trying again',
      )
    }
    this.start('gateway', ['dist/gateway.mjs'], more)
    this.start('admin', ADMIN, more)
    await untilAnswers(`${this.adminAddress}/api/v1/health`)
    this.print(`the desk says what it waits for at ${this.adminAddress}`)
    this.ready = true
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS))
      try {
        const db = await this.startDatabase()
        this.print('the database answers')
        return db
      } catch (error) {
        if (this.stopping) return new Promise(() => undefined)
        if (!isAway(error)) throw error
      }
    }
  }

  /** Starts admin, gateway and worker from the production build and waits until each answers. */
  async startApplication(more: Record<string, string> = {}): Promise<void> {
    const isHere = (name: string) => this.processes.some((running) => running.name === name)
    if (!isHere('gateway')) this.start('gateway', ['dist/gateway.mjs'], more)
    this.start('shipper', ['dist/shipper.mjs'], more)
    this.start('worker', WORKER, more)
    if (!isHere('admin')) this.start('admin', ADMIN, more)
    await untilAnswers(
      `http://127.0.0.1:${this.settings.FIDES_GATEWAY_CONTROL_PORT}/ready`,
      60_000,
      (response) => response.ok,
    )
    await untilAnswers(
      `${this.adminAddress}/api/v1/health`,
      60_000,
      async (response) => ((await response.json()) as { status: string }).status === 'ok',
    )
    this.ready = true
  }

  /** Ends the private database as a crash would, and goes on with `next` once it is started again. */
  async crashDatabase(): Promise<void> {
    const server = this.server
    this.server = undefined
    await server?.kill()
  }
  takeDatabase(next: PrivateMariaDb): void {
    this.keepDatabase(next)
  }

  /** Stops everything, the database last. */
  stop(): Promise<void> {
    return (this.stopping ??= (async () => {
      for (const timer of this.timers) clearTimeout(timer)
      for (const running of [...this.processes].reverse()) await running.stop()
      await stopServings(join(this.settings.folder, 'gateway'))
      this.gatewayPort?.close()
      await this.opened?.sequelize.close().catch(() => undefined)
      // One that is just being started again answers before its start has ended.
      await this.startingDatabase
      await this.server?.stop()
    })())
  }
}
