import { mkdtempSync, rmSync } from 'node:fs'
import { request as httpRequest } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Database } from '../../server/database/open'
import { beginSession } from '../../server/usecases/people/sessions'
import { livingServings } from '../../environment/serving-folder'
import { startMariaDb } from '../../scripts/mariadb'
import { untilAnswers, type Running } from '../../scripts/processes'
import { freeSettings, type SystemSettings } from '../../scripts/settings'
import { System } from '../../scripts/system'

export const PASSWORD = 'a password for tests'
/** Its hash, made once: hashing takes a second, and sign-in is tested by itself. */
const PASSWORD_HASH = '$scrypt$n=65536,r=8,p=2$bDZ1ldVSVEh1B1rrlmbx9Q$jrOUsgi8k6rC_RTHV7EdTxNSnVeSbKXzegPluO6dYhk'
export type Who = 'administrator' | 'editor' | 'viewer' | 'stranger'

// What the API tells is checked by what the tests expect of it.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type Told = Record<string, any>

export interface Answered<Body = Record<string, unknown>> {
  status: number
  headers: Headers
  body: Body
}

/** One whole Fides on free ports and a private MariaDB, with a small organisation in it. */
export class TestFides {
  readonly cookies = new Map<Who, string>()
  readonly lines: string[] = []
  system!: System
  db!: Database
  environment: Record<string, string> = {}
  private readonly folder = mkdtempSync(join(tmpdir(), 'fides-test-'))

  /** Starts everything; `bare` leaves the database without an organisation, `fill` fills it otherwise. */
  static async start(
    options: {
      bare?: boolean
      /** The address of desk and gateway. */
      host?: string
      fill?: (db: Database) => Promise<void>
      /** Put beside the small organisation, before anything starts. */
      beside?: (db: Database) => Promise<void>
      environment?: Record<string, string> | ((settings: SystemSettings) => Record<string, string>)
    } = {},
  ): Promise<TestFides> {
    const fides = new TestFides()
    fides.system = new System(await freeSettings(fides.folder, options.host), (line) => fides.lines.push(line))
    try {
      fides.db = await fides.system.startDatabase()
      const own = !options.bare && !options.fill
      await options.fill?.(fides.db)
      if (own) await fides.layOut()
      await options.beside?.(fides.db)
      // Nobody outside is asked unless a test brings its own outside world.
      fides.environment = {
        FIDES_RESOLVERS: 'nobody=127.0.0.1:9',
        FIDES_WATCH_SECONDS: '3600',
        ...(typeof options.environment === 'function'
          ? options.environment(fides.system.settings)
          : options.environment),
      }
      await fides.system.startApplication(fides.environment)
      if (own) await fides.signInAll()
    } catch (error) {
      // What did start must not stay behind.
      await fides.stop()
      throw error
    }
    return fides
  }

  private async layOut(): Promise<void> {
    const createdAt = new Date()
    await this.db.Organisation.create({ name: 'Test Transit', timeZone: 'Europe/Lisbon', createdAt })
    for (const role of ['administrator', 'editor', 'viewer'] as const)
      await this.db.Member.create({
        email: `${role}@port.test`,
        name: role,
        role,
        passwordHash: PASSWORD_HASH,
        createdAt,
      })
    await this.db.Domain.create({
      host: 'ansl.example',
      standing: 'open',
      capitalsMatter: false,
      createdAt,
      updatedAt: createdAt,
    })
    await this.db.Domain.create({ host: 'go.example', standing: 'open', createdAt, updatedAt: createdAt })
    await this.db.Domain.create({ host: 'coming.example', standing: 'spreading', createdAt, updatedAt: createdAt })
  }

  private async signInAll(): Promise<void> {
    for (const who of ['administrator', 'editor', 'viewer'] as const) {
      const member = (await this.db.Member.findOne({ where: { email: `${who}@port.test` } }))!
      const { word } = await beginSession(this.db, member, 'tests', true)
      this.cookies.set(who, `__Host-fides=${word}`)
    }
  }

  /** What a browser would send to be known as somebody. */
  cookieOf(who: Who): string {
    return this.cookies.get(who)!
  }

  /** Calls the API as somebody. */
  async call<Body = Told>(
    who: Who,
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answered<Body>> {
    const cookie = this.cookies.get(who)
    const response = await fetch(`${this.system.adminAddress}/api/v1${path}`, {
      method,
      headers: {
        ...(cookie && { cookie }),
        // As a browser tells it of a page of the desk.
        ...(method !== 'GET' && { 'sec-fetch-site': 'same-origin' }),
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...headers,
      },
      body:
        body === undefined || typeof body === 'string' || body instanceof Uint8Array
          ? (body as string | undefined)
          : JSON.stringify(body),
    })
    const text = await response.text()
    const isJson = /\bjson\b/.test(response.headers.get('content-type') ?? '')
    return {
      status: response.status,
      headers: response.headers,
      body: (isJson && text ? JSON.parse(text) : text === '' ? {} : text) as Body,
    }
  }

  /** Makes a link as the editor; throws the problem where that is refused. */
  async link(more: Record<string, unknown> = {}): Promise<Told> {
    const made = await this.call('editor', 'POST', '/links', {
      domain: 'ansl.example',
      destination: 'https://www.example/page',
      reason: 'for a test',
      ...more,
    })
    if (made.status !== 201) throw new Error(JSON.stringify(made.body))
    return made.body
  }

  change(link: { id: number; version: number }, body: object, who: Who = 'editor') {
    return this.call(
      who,
      'PATCH',
      `/links/${link.id}`,
      { reason: 'for a test', ...body },
      { 'if-match': `"${link.version}"` },
    )
  }

  /** Asks the gateway as a stranger. */
  visit(
    address: string,
    options: { method?: string; headers?: Record<string, string> } = {},
  ): Promise<{ status: number; location?: string; headers: Record<string, string | string[] | undefined> }> {
    const slash = address.indexOf('/')
    return new Promise((resolve, reject) => {
      const sent = httpRequest(
        {
          host: this.system.settings.FIDES_GATEWAY_HOST,
          port: this.system.settings.FIDES_GATEWAY_PORT,
          method: options.method ?? 'GET',
          path: address.slice(slash),
          headers: {
            host: address.slice(0, slash),
            'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0',
            ...options.headers,
          },
        },
        (response) =>
          response
            .resume()
            .on('end', () =>
              resolve({ status: response.statusCode!, location: response.headers.location, headers: response.headers }),
            ),
      )
      sent.on('error', reject).end()
    })
  }

  process(name: string): Running {
    return this.system.processes.filter((running) => running.name === name).at(-1)!
  }

  /** Ends a process as a crash would, without the system stopping with it. */
  async kill(name: string): Promise<void> {
    const running = this.process(name)
    // Those that serve outlive the process that leads them.
    const serving = name === 'gateway' ? livingServings(join(this.folder, 'gateway')) : []
    running.child.removeAllListeners('exit')
    const ended = new Promise((resolve) => running.child.once('exit', resolve))
    running.child.kill('SIGKILL')
    await ended
    for (const pid of serving) process.kill(pid, 'SIGKILL')
    this.system.processes.splice(this.system.processes.indexOf(running), 1)
  }

  /** Stops the gateway as an operator would; it writes what it holds. */
  async stopGateway(): Promise<void> {
    const running = this.process('gateway')
    await running.stop()
    this.system.processes.splice(this.system.processes.indexOf(running), 1)
  }

  async startGateway(): Promise<void> {
    this.system.start('gateway', ['dist/gateway.mjs'], this.environment)
    await untilAnswers(
      `http://127.0.0.1:${this.system.settings.FIDES_GATEWAY_CONTROL_PORT}/ready`,
      60_000,
      (response) => response.ok,
    )
  }

  /** Starts this Fides's database again after `system.crashDatabase()`. */
  startDatabaseAgain = () => startMariaDb(join(this.folder, 'mariadb'), this.system.settings.FIDES_DATABASE_PORT)

  async stop(): Promise<void> {
    await this.system.stop()
    rmSync(this.folder, { recursive: true, force: true })
  }
}

/** Waits until `ask` gives a true value, asking every 20 ms; fails after `patienceMs` with what was waited for. */
export async function until<Value>(
  what: string,
  ask: () => Value | Promise<Value>,
  patienceMs = 60_000,
): Promise<NonNullable<Value>> {
  const give = Date.now() + patienceMs
  for (;;) {
    const value = await ask()
    if (value) return value as NonNullable<Value>
    if (Date.now() > give) throw new Error(`waited ${patienceMs / 1000} s in vain: ${what}`)
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}
