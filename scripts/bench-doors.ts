// npm run bench:doors [-- SECONDS]: one viewer, one editor and one stranger do their worst at once, while an
// administrator works. How long the administrator waits, and by how much the desk grows.
import { request } from 'node:http'
import { connect, type Socket } from 'node:net'
import type { Role } from '../core/schemas'
import { BENCH_HOST, fillLinks, round } from './bench-load'
import { childrenMegabytes, megabytesOf } from './process-memory'
import { BenchSystem, print } from './bench-system'
import { benchToken } from './bench-token'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const SECONDS = Number(process.argv[2] ?? 60)
const LINKS = 20_000
const MAX_P95_MS = 300
const MAX_GROWTH_MB = 150
const ROLES = ['viewer', 'editor', 'administrator'] as const

const system = await BenchSystem.make()
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  await fillLinks(system.databaseUrl, 1, LINKS)
  const tokens = {} as Record<Role, string>
  for (const role of ROLES) tokens[role] = await benchToken(db, role)
  await system.startApplication({ FIDES_RESOLVERS: 'nobody=127.0.0.1:9' })
  const desk = new URL(system.adminAddress)
  const pid = system.processes.find(({ name }) => name === 'admin')!.child.pid!

  let going = true
  const call = async (role: Role, method: string, path: string, body?: unknown, type = 'application/json') => {
    const answer = await fetch(`${system.adminAddress}/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${tokens[role]}`, ...(body !== undefined && { 'content-type': type }) },
      body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
      signal: AbortSignal.timeout(60_000),
    })
    await answer.arrayBuffer()
    return answer.status
  }
  const answered: Record<string, number> = {}
  /** Does the same over and over until the end; what it is answered is counted. */
  const endlessly = (who: string, times: number, work: () => Promise<number>) =>
    Array.from({ length: times }, async () => {
      while (going) {
        const status = await work().catch(() => 0)
        answered[`${who} ${status}`] = (answered[`${who} ${status}`] ?? 0) + 1
        await pause(status === 429 || status === 503 || status === 0 ? 50 : 5)
      }
    })

  /** The administrator’s work, one thing after the other; how long each took, in milliseconds. */
  const waits: Record<string, number[]> = {}
  const failed: string[] = []
  const timed = async (what: string, work: () => Promise<number>) => {
    const began = performance.now()
    const status = await work()
    ;(waits[what] ??= []).push(performance.now() - began)
    if (status >= 400) failed.push(`${what}: ${status}`)
  }
  let made = 0
  const workOnce = async (mark: string) => {
    await timed('list', () => call('administrator', 'GET', '/links?limit=50'))
    await timed('find', () => call('administrator', 'GET', `/links?q=page-${made % 1000}&limit=20`))
    await timed('docket', () => call('administrator', 'GET', '/cases'))
    await timed('compare', () => call('administrator', 'POST', '/patterns/compare', { a: '/a/:id', b: '/b/:id' }))
    const link = { domain: BENCH_HOST, slug: `${mark}-${++made}`, destination: 'https://www.example/', reason: 'bench' }
    await timed('make', () => call('administrator', 'POST', '/links', link))
    await pause(100)
  }
  print('the administrator alone')
  for (let turn = 0; turn < 20; turn++) await workOnce('calm')
  const calm = p95(Object.values(waits).flat())
  for (const what of Object.keys(waits)) waits[what] = []
  const before = megabytesOf(pid)
  let most = before
  let mostChildren = 0
  const watch = setInterval(() => {
    most = Math.max(most, megabytesOf(pid))
    mostChildren = Math.max(mostChildren, childrenMegabytes(pid))
  }, 50)

  print(`everybody at their worst for ${SECONDS} s`)
  const stars = (letter: string) => '/' + `*${letter}`.repeat(100)
  const sockets = new Set<Socket>()
  /** Holds a connection open that sends next to nothing. */
  const hold = (text: string): Promise<number> =>
    new Promise((resolve) => {
      const socket = connect(Number(desk.port), desk.hostname, () => socket.write(text))
      sockets.add(socket)
      socket.on('error', () => undefined).on('data', () => undefined)
      socket.on('close', () => {
        sockets.delete(socket)
        resolve(1)
      })
    })
  const head = (path: string, length: number, role?: Role, type = 'application/json') =>
    `POST /api/v1${path} HTTP/1.1\r\nHost: ${desk.host}\r\nSec-Fetch-Site: same-origin\r\nContent-Type: ${type}\r\n` +
    `${role ? `Authorization: Bearer ${tokens[role]}\r\n` : ''}Content-Length: ${length}\r\n\r\n`
  const commas = ','.repeat(49_000_000)
  const wide = `/a,https://www.example/${',x'.repeat(200)}\n`.repeat(90_000)
  /** Asks and goes away at once, so that nobody reads the answer. */
  const askAndLeave = () =>
    new Promise<number>((resolve) => {
      const sent = request(`${system.adminAddress}/api/v1/patterns/compare`, {
        method: 'POST',
        headers: { authorization: `Bearer ${tokens.viewer}`, 'content-type': 'application/json' },
      })
      sent.on('error', () => resolve(0))
      sent.end(JSON.stringify({ a: stars('a'), b: stars('b') }))
      setTimeout(() => sent.destroy(), 200)
    })
  const attacks = [
    ...endlessly('viewer compare', 8, () =>
      call('viewer', 'POST', '/patterns/compare', { a: stars('a'), b: stars('b') }),
    ),
    ...endlessly('viewer leaves', 4, askAndLeave),
    ...endlessly('viewer export', 3, () => call('viewer', 'GET', `/export/json?domain=${BENCH_HOST}`)),
    ...endlessly('viewer movers', 2, () => call('viewer', 'GET', '/traffic/movers')),
    ...endlessly('editor commas', 1, () =>
      call('editor', 'POST', `/imports?name=a.csv&domain=${BENCH_HOST}`, commas, 'text/csv'),
    ),
    ...endlessly('editor wide', 1, () =>
      call('editor', 'POST', `/imports?name=b.csv&domain=${BENCH_HOST}`, wide, 'text/csv'),
    ),
    ...endlessly('editor slow', 4, () =>
      hold(head(`/imports?name=c.csv&domain=${BENCH_HOST}`, 40_000_000, 'editor', 'text/csv') + 'x'),
    ),
    ...endlessly('editor compare', 4, () =>
      call('editor', 'POST', '/patterns/compare', { a: stars('c'), b: stars('d') }),
    ),
    ...endlessly('stranger body', 150, () => hold(head('/session', 999_000) + 'x'.repeat(990_000))),
    ...endlessly('stranger head', 100, () => hold('POST /api/v1/session HTTP/1.1\r\nHost: desk.ex')),
  ]
  const until = Date.now() + SECONDS * 1000
  while (Date.now() < until) await workOnce('storm')
  going = false
  for (const socket of sockets) socket.destroy()
  await Promise.race([Promise.allSettled(attacks), pause(65_000)])
  clearInterval(watch)
  await system.leave()
  const all = Object.values(waits).flat()
  const figures = {
    bench: 'doors',
    seconds: SECONDS,
    requests: all.length,
    failed: failed.length,
    calmP95Ms: round(calm),
    p95Ms: round(p95(all)),
    mostMs: round(Math.max(...all)),
    byKind: Object.fromEntries(Object.entries(waits).map(([what, list]) => [what, round(p95(list))])),
    deskMegabytes: round(before),
    grewMegabytes: round(most - before),
    childrenMegabytes: round(mostChildren),
    answered,
  }
  for (const line of failed.slice(0, 10)) print(line)
  print(JSON.stringify(figures))
  process.exitCode = figures.p95Ms > MAX_P95_MS || figures.grewMegabytes > MAX_GROWTH_MB || failed.length > 0 ? 1 : 0
})

/** The wait that nineteen of twenty stay below. */
function p95(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length * 0.95)] ?? 0
}
