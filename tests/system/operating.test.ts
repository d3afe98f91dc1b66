import { execFile, spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startMariaDb, type PrivateMariaDb } from '../../scripts/mariadb'
import { freePort, portIsFree } from '../../scripts/ports'
import { migrate } from '../../server/database/migrate'
import { openDatabase } from '../../server/database/open'
import { createLink } from '../../server/usecases/links/create-link'
import { linkCreate } from '../../core/schemas'
import { readWalkThrough } from '../fresh/page'
import { until } from './fides'

const ROOT = join(import.meta.dirname, '..', '..')
const PATH = `${process.env.PATH}:/usr/sbin:/usr/local/sbin`
const folder = mkdtempSync(join(tmpdir(), 'fides-operating-'))
const text = readFileSync(join(ROOT, 'docs', 'operating.md'), 'utf8')
/** The commands the page tells people to run, and the configurations that stand beside them. */
const blocks = [...text.matchAll(/^```(\w*)\n([\s\S]*?)^```$/gm)].map(([, kind, block]) => ({ kind, block: block! }))
// Those of the walk-through are run in a fresh Debian of their own, by npm run test:fresh.
const elsewhere = new Set(readWalkThrough().shell)
const commands = blocks
  .filter(({ kind, block }) => kind === 'sh' && !elsewhere.has(block))
  .map(({ block }) => block.trim())
const configurations = blocks.filter(({ kind }) => kind === '').map(({ block }) => block)

const started: ChildProcess[] = []
afterAll(async () => {
  for (const child of started) if (child.exitCode === null) child.kill('SIGTERM')
  await Promise.all(
    started.map((child) => child.exitCode === null && new Promise((resolve) => child.once('exit', resolve))),
  )
  rmSync(folder, { recursive: true, force: true })
}, 60_000)

/** A start command under way, as an operator runs it. */
class Start {
  said = ''
  readonly child: ChildProcess
  readonly ended: Promise<number | null>

  constructor(readonly environment: Record<string, string>) {
    this.child = spawn(process.execPath, ['--import', 'tsx', join(ROOT, 'scripts', 'start.ts')], {
      cwd: ROOT,
      env: { ...process.env, FIDES_LOG: 'readable', ...environment },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    started.push(this.child)
    for (const stream of [this.child.stdout!, this.child.stderr!])
      stream.setEncoding('utf8').on('data', (piece: string) => (this.said += piece))
    this.ended = new Promise((resolve) => this.child.once('exit', (code) => resolve(code)))
  }
  says = (words: string | RegExp) =>
    until(
      `“${words}”`,
      () => {
        if (this.child.exitCode !== null) throw new Error(`it ended:\n${this.said}`)
        return this.said.match(words) !== null
      },
      60_000,
    )
  async stop(): Promise<void> {
    this.child.kill('SIGTERM')
    await this.ended
  }
}

/** The environment of an installation of its own, on free ports. */
async function installation(name: string): Promise<Record<string, string>> {
  const [admin, gateway, control, database] = await Promise.all([freePort(), freePort(), freePort(), freePort()])
  return {
    FIDES_DATA: join(folder, name),
    FIDES_ADMIN_PORT: String(admin),
    FIDES_GATEWAY_PORT: String(gateway),
    FIDES_GATEWAY_CONTROL_PORT: String(control),
    FIDES_DATABASE_PORT: String(database),
    FIDES_RESOLVERS: 'nobody=127.0.0.1:9',
  }
}

/** Runs a command of the page as it stands there; files are made in the test’s own folder. */
async function run(command: string, environment: Record<string, string> = {}, where = folder): Promise<string> {
  const { stdout, stderr } = await promisify(execFile)('sh', ['-ec', command], {
    cwd: where,
    env: { ...process.env, PATH, ...environment },
    maxBuffer: 50_000_000,
  })
  return stdout + stderr
}
const has = (part: string) => {
  const found = commands.find((command) => command.includes(part))
  if (!found) throw new Error(`the page has no command with “${part}”`)
  return found
}

describe('the page for operators', () => {
  it('has no command that is not run here', () => {
    const run = ['tsig-keygen', 'named-checkconf', 'keymgr', 'knotc', 'curl -s', 'npm run backup', 'npm run restore']
    expect(commands.filter((command) => !run.some((part) => command.includes(part)))).toEqual([])
    expect(commands).toHaveLength(run.length)
  })

  it('tells how a key is made at BIND, and its configuration is one', async () => {
    await run(has('tsig-keygen'))
    expect(readFileSync(join(folder, 'desk.key'), 'utf8')).toContain('key "desk-key"')
    const block = configurations.find((each) => each.includes('update-policy'))!
    writeFileSync(join(folder, 'named.conf'), block.replace('/etc/bind/desk.key', join(folder, 'desk.key')))
    await run(has('named-checkconf'))
  })

  it('tells how a key is made at Knot DNS, and its configuration is one', async () => {
    await run(has('keymgr'))
    const key = readFileSync(join(folder, 'desk.key'), 'utf8')
    const block = configurations.find((each) => each.startsWith('acl:'))!
    writeFileSync(join(folder, 'knot.conf'), `server:\n    rundir: ${folder}\n${key}\n${block}`)
    expect(await run(has('knotc'))).toContain('Configuration is valid')
  })
})

describe('a variable that is wrong', () => {
  it.each([
    ['FIDES_RESOLVERS', 'no-address', 'FIDES_RESOLVERS: no-address must look like name=address:port'],
    ['FIDES_TTL_SPEED', '0', 'FIDES_TTL_SPEED: must be at least 1'],
    ['FIDES_TRUSTED_PROXIES', 'everybody', 'FIDES_TRUSTED_PROXIES: everybody is neither an address'],
    ['FIDES_SECRET', 'short', 'FIDES_SECRET: must be at least 32 characters'],
    ['FIDES_ADMIN_HOST', 'localhost', 'FIDES_ADMIN_HOST: must be an IP address'],
    ['FIDES_DATABASE_URL', 'mysql://x', 'FIDES_DATABASE_URL: must look like mariadb://'],
  ])('%s stops the start before anything listens or is written', async (name, value, words) => {
    const environment = { ...(await installation('wrong')), [name]: value }
    const start = new Start(environment)
    expect(await start.ended).toBe(78)
    expect(start.said).toContain(words)
    expect(await portIsFree(Number(environment.FIDES_GATEWAY_PORT))).toBe(true)
    expect(existsSync(join(folder, 'wrong', 'production', 'mariadb'))).toBe(false)
  })
})

describe('backup and restore', () => {
  it('give back what was there, by the page’s own commands', async () => {
    const environment = await installation('own')
    const desk = `http://127.0.0.1:${environment.FIDES_ADMIN_PORT}`
    const first = new Start(environment)
    await first.says('Fides is ready')
    await first.says(/set-up\?ticket=/)
    const ticket = /ticket=([\w-]+)/.exec(first.said)![1]
    const post = (path: string, body: object, cookie = '') =>
      fetch(`${desk}/api/v1${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'sec-fetch-site': 'same-origin', cookie },
        body: JSON.stringify(body),
      })
    const person = { email: 'first@port.test', password: 'tram lantern mussel quay' }
    const made = await post('/setup', { ...person, organisation: 'Port', timeZone: 'UTC', name: 'First', ticket })
    expect(made.status).toBe(201)
    const file = join(folder, 'fides.sql')
    const npm = (command: string) => command.replace('fides.sql', file)
    expect(JSON.parse(await run(has('curl -s').replace('3000', environment.FIDES_ADMIN_PORT!)))).toEqual({
      status: 'ok',
    })
    expect(await run(npm(has('npm run backup')), environment, ROOT)).toMatch(/octets/)
    // What is there is not overwritten.
    await expect(run(npm(has('npm run backup')), environment, ROOT)).rejects.toThrow(/there already/)

    const session = await post('/session', person)
    const cookie = session.headers.get('set-cookie')!.split(';')[0]!
    expect((await post('/domains', { host: 'later.example' }, cookie)).status).toBe(201)
    // Not while it runs, and not from half a file.
    await expect(run(npm(has('npm run restore')), environment, ROOT)).rejects.toThrow(/stop Fides first/)
    await first.stop()
    const half = join(folder, 'half.sql')
    writeFileSync(half, readFileSync(file, 'utf8').slice(0, 5000))
    await expect(run(has('npm run restore').replace('fides.sql', half), environment, ROOT)).rejects.toThrow(
      /is no whole backup/,
    )
    // All of it is lost: the folder with the database, the secret and the snapshots.
    const secret = readFileSync(`${file}.secrets`, 'utf8')
    rmSync(join(environment.FIDES_DATA!, 'production'), { recursive: true })
    expect(await run(npm(has('npm run restore')), environment, ROOT)).toContain('start Fides')
    const own = join(environment.FIDES_DATA!, 'production', 'installation-secret')
    expect(readFileSync(own, 'utf8')).toBe(secret)
    expect(statSync(own).mode & 0o077).toBe(0)

    const second = new Start(environment)
    await second.says('Fides is ready')
    const again = await post('/session', person)
    expect(again.status).toBe(200)
    const domains = await fetch(`${desk}/api/v1/domains`, {
      headers: { cookie: again.headers.get('set-cookie')!.split(';')[0]! },
    })
    expect(((await domains.json()) as { items: unknown[] }).items).toEqual([])
    await second.stop()
  }, 240_000)
})

describe('a database of one’s own that is away', () => {
  let server: PrivateMariaDb
  let port: number
  const home = join(folder, 'elsewhere')
  beforeAll(async () => {
    port = await freePort()
    server = await startMariaDb(home, port)
  })
  afterAll(() => server.stop())

  it('is waited for: the gateway serves from its snapshot, and the desk says so', async () => {
    const environment: Record<string, string> = {
      ...(await installation('away')),
      FIDES_DATABASE_URL: server.url,
    }
    const db = openDatabase(server.url)
    await migrate(db.sequelize)
    const createdAt = new Date()
    await db.Domain.create({ host: 'ansl.example', standing: 'open', createdAt, updatedAt: createdAt })
    await createLink(
      db,
      { memberId: null, name: 'test', role: 'administrator' },
      linkCreate.parse({ domain: 'ansl.example', slug: 'printed', destination: 'https://fares.example/', reason: 'x' }),
    )
    await db.sequelize.close()
    const visit = async () =>
      run(
        `curl -s -o /dev/null -w '%{http_code}' -H 'Host: ansl.example' ` +
          `http://127.0.0.1:${environment.FIDES_GATEWAY_PORT}/printed`,
      ).catch(() => 'refused')
    const first = new Start(environment)
    await first.says('Fides is ready')
    await until('the link', async () => (await visit()) === '302')
    await first.stop()

    await server.stop()
    const second = new Start(environment)
    await second.says(/the database does not answer .* starting the gateway from its snapshot/)
    await second.says('the desk says what it waits for')
    await until('the link, from the snapshot', async () => (await visit()) === '302')
    const health = async () =>
      (await (await fetch(`http://127.0.0.1:${environment.FIDES_ADMIN_PORT}/api/v1/health`)).json()) as {
        status: string
      }
    expect(await health()).toEqual({ status: 'degraded' })
    expect((await fetch(`http://127.0.0.1:${environment.FIDES_ADMIN_PORT}/`)).status).toBe(200)
    const asked = await fetch(`http://127.0.0.1:${environment.FIDES_ADMIN_PORT}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'sec-fetch-site': 'same-origin' },
      body: JSON.stringify({ email: 'x@port.test', password: 'whatever it is' }),
    })
    expect(asked.status).toBe(503)

    server = await startMariaDb(home, port)
    await second.says('the database answers')
    await second.says('Fides is ready')
    expect(await health()).toEqual({ status: 'ok' })
    await second.stop()
  }, 240_000)

  it('whose password is another stops the start', async () => {
    const url = server.url.replace(/:[0-9a-f]+@/, ':another@')
    const start = new Start({ ...(await installation('denied')), FIDES_DATABASE_URL: url })
    expect(await start.ended).toBe(1)
    expect(start.said).toMatch(/Fides cannot start\. .*Access denied/)
  }, 60_000)
})
