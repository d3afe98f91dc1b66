import { execFile, spawn, type ChildProcess } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fuzz } from '../../scripts/fuzz'
import { killRun } from '../../scripts/kill-run'
import { freePort } from '../../scripts/ports'
import { TestFides, until } from './fides'

// Small sizes of what npm run bench:kills and npm run fuzz:gateway do for long.
const LINKS = 12
let fides: TestFides
let token: string
const links: { id: number; slug: string; destination: string }[] = []
beforeAll(async () => {
  fides = await TestFides.start({ environment: { FIDES_GATEWAY_PROCESSES: '2' } })
  for (let number = 1; number <= LINKS; number++) {
    const destination = `https://first.example/${number}`
    const { id } = await fides.link({ slug: `printed-${number}`, destination })
    links.push({ id, slug: `printed-${number}`, destination })
  }
  token = 'fides_' + randomBytes(32).toString('base64url')
  const editor = (await fides.db.Member.findOne({ where: { role: 'editor' } }))!
  await fides.db.ApiToken.create({
    memberId: editor.id,
    name: 'test',
    hash: createHash('sha256').update(token).digest('hex'),
    scope: 'write',
    createdAt: new Date(),
    expiresAt: null,
  })
  await until('the links', async () => (await fides.visit(`ansl.example/printed-${LINKS}`)).status === 302)
})
afterAll(() => fides.stop())

const control = () => `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}`

describe('hostile input', () => {
  it('gets no fault of ours, nothing out of step, and ends no process', async () => {
    const figures = await fuzz(
      {
        port: fides.system.settings.FIDES_GATEWAY_PORT,
        host: 'ansl.example',
        known: links.map(({ slug, destination }) => [slug, destination] as const),
      },
      { requests: 15_000, connections: 24, seed: 20_261_126 },
    )
    expect(figures.faults).toEqual([])
    expect(figures.outOfStep).toEqual([])
    expect(figures.answers).toBeGreaterThan(30_000)
    expect(fides.lines.filter((line) => /ended unexpectedly/.test(line))).toEqual([])
  })

  it('sent an octet at a time is held to 30 s, and harms nobody meanwhile', async () => {
    const slow = Array.from({ length: 500 }, () => {
      const socket = connect({ port: fides.system.settings.FIDES_GATEWAY_PORT, host: '127.0.0.1' })
      socket.on('error', () => undefined)
      socket.write('GET /printed-1 HTTP/1.1\r\nHost: a')
      return socket
    })
    const began = Date.now()
    expect((await fides.visit('ansl.example/printed-1')).status).toBe(302)
    expect(Date.now() - began).toBeLessThan(1000)
    for (const socket of slow) socket.destroy()
  })
})

describe('metrics and health of the control port', () => {
  it('tell of requests, latency, spool, revision and the event loop', async () => {
    const text = await (await fetch(`${control()}/metrics`)).text()
    for (const name of [
      'fides_gateway_requests_total{outcome="redirect"}',
      'fides_gateway_answer_seconds_bucket{le="0.001"}',
      'fides_gateway_revision',
      'fides_gateway_database_heard_seconds',
      'fides_spool_segments',
      'fides_gateway_nodejs_eventloop_lag_seconds',
      'fides_gateway_processes 2',
    ])
      expect(text).toContain(name)
    expect((await fetch(`${control()}/live`)).status).toBe(200)
    expect((await fetch(`${control()}/ready`)).status).toBe(200)
    expect((await fetch(`${control()}/anything`)).status).toBe(404)
  })
})

describe('random kills', () => {
  it('give no wrong answer, lose no visit but the last 100 ms, and refuse nobody', async () => {
    const figures = await killRun({
      system: fides.system,
      db: fides.db,
      host: 'ansl.example',
      links,
      kills: 10,
      seed: 7,
      pauseMs: 1500,
      async edit(which, destination) {
        const headers = { authorization: `Bearer ${token}` }
        const path = `/links/${links[which]!.id}`
        const { body } = await fides.call('stranger', 'GET', path, undefined, headers)
        const change = { destination, reason: 'kills' }
        const etag = { 'if-match': `"${body.version}"` }
        return (await fides.call('stranger', 'PATCH', path, change, { ...headers, ...etag })).status === 200
      },
    })
    expect(figures, JSON.stringify(figures)).toMatchObject({ wrong: [], refused: 0, lost: 0, twice: 0 })
    expect(figures.answered).toBeGreaterThan(100)
  }, 180_000)
})

describe('an upgrade', () => {
  const folder = mkdtempSync(join(tmpdir(), 'fides-upgrade-'))
  let start: ChildProcess | undefined
  let said = ''
  afterAll(async () => {
    if (start && start.exitCode === null) {
      const ended = new Promise((resolve) => start!.once('exit', resolve))
      start.kill('SIGTERM')
      await ended
    }
    rmSync(folder, { recursive: true, force: true })
  }, 60_000)

  it('loses no visitor: fresh processes take over under load', async () => {
    const [admin, gateway, port, database] = await Promise.all([freePort(), freePort(), freePort(), freePort()])
    const environment = {
      ...process.env,
      FIDES_DATA: folder,
      FIDES_ADMIN_PORT: String(admin),
      FIDES_GATEWAY_PORT: String(gateway),
      FIDES_GATEWAY_CONTROL_PORT: String(port),
      FIDES_DATABASE_PORT: String(database),
      FIDES_RESOLVERS: 'nobody=127.0.0.1:9',
    }
    start = spawn(process.execPath, ['--import', 'tsx', 'scripts/start.ts'], { env: environment })
    for (const stream of [start.stdout!, start.stderr!])
      stream.on('data', (piece: Buffer) => (said += piece.toString()))
    await until('the start', () => said.includes('Fides is ready'), 60_000)
    const outcomes = new Map<string, number>()
    const agent = new Agent({ keepAlive: true, maxSockets: 8 })
    let going = true
    const visitors = Array.from({ length: 8 }, async () => {
      while (going) {
        const outcome = await new Promise<string>((resolve) =>
          request(
            { host: '127.0.0.1', port: gateway, path: '/x', agent, headers: { host: 'nobody.example' } },
            (response) => response.resume().on('end', () => resolve(String(response.statusCode))),
          )
            .on('error', (error: NodeJS.ErrnoException) => resolve(error.code ?? error.message))
            .end(),
        )
        outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1)
      }
    })
    const { stdout } = await promisify(execFile)(process.execPath, ['--import', 'tsx', 'scripts/upgrade.ts'], {
      env: environment,
    })
    expect(stdout).toMatch(/before-upgrade-.*\.sql: [\d,]+ octets/)
    expect(stdout).toContain('The new release serves.')
    await until('the desk again', async () =>
      fetch(`http://127.0.0.1:${admin}/api/v1/health`)
        .then(async (answer) => ((await answer.json()) as { status: string }).status === 'ok')
        .catch(() => false),
    )
    going = false
    await Promise.all(visitors)
    agent.destroy()
    const check = await promisify(execFile)(process.execPath, ['--import', 'tsx', 'scripts/deploy-check.ts'], {
      env: { ...environment, FIDES_TTL_SPEED: '10', FIDES_GATEWAY_HOST: '0.0.0.0' },
    }).catch((error: { code: number; stdout: string }) => error)
    // A machine that is no server yet: each thing in a line of its own, and an exit that says so.
    expect(check).toMatchObject({ code: 1 })
    for (const line of [
      /^ok {6}the database has today’s form$/m,
      /^ok {6}the gateway answers visitors$/m,
      /^ok {6}a backup of the last 2 days/m,
      /^missing FIDES_PUBLIC_NAME or FIDES_PUBLIC_ADDRESSES/m,
      /^wrong {3}FIDES_TTL_SPEED is for demonstrations/m,
      /^wrong {3}FIDES_GATEWAY_HOST is 0\.0\.0\.0: strangers reach it past the front/m,
    ])
      expect(check.stdout).toMatch(line)
    expect(Object.keys(Object.fromEntries(outcomes))).toEqual(['421'])
    expect(outcomes.get('421')).toBeGreaterThan(500)
  }, 180_000)
})
