// npm run bench:misses: the ranking among 100,000 and 1,000,000 links; the gateway's page for what was not found
// against a redirect; and a scan of a million paths against the same load of one path.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import mariadb from 'mariadb'
import { LinkIndex, rank, readCut, ADMISSION, type IndexedLink } from '../core/misses'
import { readEvent } from '../core/visits'
import { connectionConfig } from '../environment/database-url'
import { seeded } from '../server/database/seed/chance'
import { makeSlips } from '../standins/visitors/slips'
import { family, median, round } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { untilAnswers } from './processes'
import { runCommand } from './run-command'

const LINKS = 100_000
const SCAN_PATHS = Number(process.env.FIDES_SCAN_PATHS ?? 1_000_000)
const CONNECTIONS = 32
const SECONDS = 6
const ROUNDS = 3

/** Slugs of several families, as many as asked for. */
function madeUp(count: number, random: () => number): string[] {
  const words =
    'fares night stop line bike map card winter summer ferry news access school museum harbour ticket'.split(' ')
  const word = () => words[Math.floor(random() * words.length)]!
  const slugs = new Set<string>()
  while (slugs.size < count) {
    const kind = random()
    if (kind < 0.5) slugs.add(`${word()}/${Math.floor(random() * count * 2)}`)
    else if (kind < 0.8) slugs.add(`${word()}-${word()}-${Math.floor(random() * count)}`)
    else
      slugs.add(Array.from({ length: 7 }, () => 'abcdefghjkmnpqrstuvwxyz23456789'[Math.floor(random() * 31)]).join(''))
  }
  return [...slugs]
}

function rankingOf(count: number) {
  const random = seeded(count)
  const slugs = madeUp(count, random)
  const links = slugs.map((canonical, at): IndexedLink => ({
    id: at + 1,
    leader: at + 1,
    domainId: 1,
    canonical,
    visits: Math.floor(200 / (1 + random() * 200)),
    live: true,
    shown: true,
  }))
  const began = performance.now()
  const index = LinkIndex.of(links)
  const buildSeconds = (performance.now() - began) / 1000
  const slip = makeSlips(random, ['bench.example'])
  const asked = Array.from({ length: 3000 }, () => slip('bench.example', slugs[Math.floor(random() * count)]!).typed)
  for (const path of asked.slice(0, 500)) rank(index, { domainId: 1, path })
  const took = asked.slice(500).map((path) => {
    const from = performance.now()
    rank(index, { domainId: 1, path })
    return performance.now() - from
  })
  const mean = took.reduce((sum, ms) => sum + ms, 0) / took.length
  const p99 = [...took].sort((a, b) => a - b)[Math.floor(took.length * 0.99)]!
  const figures = {
    links: count,
    buildSeconds: round(buildSeconds, 2),
    bytesPerLink: round(index.bytes / count, 1),
    meanMs: round(mean),
    p99Ms: round(p99),
  }
  print(`ranking: ${JSON.stringify(figures)}`)
  return figures
}

const system = await BenchSystem.make()
const { folder, FIDES_GATEWAY_PORT: gateway } = system.settings

interface Load {
  requests: number
  seconds: number
  p99: number
  errors: number
}

function load(mode: string, seconds: number, scanFrom = 0, connections = CONNECTIONS): Promise<Load> {
  return new Promise((resolve, reject) => {
    const wrk = spawn(
      'wrk',
      ['-t1', `-c${connections}`, `-d${seconds}s`, '-s', 'scripts/bench-misses.lua', `http://127.0.0.1:${gateway}/`],
      { env: { ...process.env, LINKS: String(LINKS), MODE: mode, SCAN_FROM: String(scanFrom) } },
    )
    let text = ''
    wrk.stdout.on('data', (piece) => (text += piece))
    wrk.on('error', reject)
    wrk.on('exit', () => {
      const line = text.split('\n').find((candidate) => candidate.startsWith('{'))
      if (line) resolve(JSON.parse(line) as Load)
      else reject(new Error(`wrk said: ${text}`))
    })
  })
}

/** Processor time of a process with all its threads so far, in microseconds; memory in MB. */
function usageOf(pid: number) {
  const stat = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')
  const status = readFileSync(`/proc/${pid}/status`, 'utf8')
  return {
    // Clock ticks of a hundredth of a second (proc(5)).
    cpu: (Number(stat[11]) + Number(stat[12])) * 10_000,
    megabytes: Number(/VmRSS:\s+(\d+)/.exec(status)![1]) / 1024,
  }
}

/** What a few people keep asking for meanwhile. */
function keepAsking(): () => number {
  let asked = 0
  const timer = setInterval(() => {
    asked++
    const headers = {
      host: 'bench.example',
      'user-agent': 'Mozilla/5.0 (iPhone)',
      'x-forwarded-for': `203.0.113.${asked % 250}`,
    }
    request({ host: '127.0.0.1', port: gateway, path: '/stpo/4417', headers }, (response) => response.resume())
      .on('error', () => undefined)
      .end()
  }, 400)
  return () => {
    clearInterval(timer)
    return asked
  }
}

await runCommand(system, async () => {
  if (!existsSync('dist/gateway.mjs') || process.env.FIDES_REBUILD)
    spawnSync(process.execPath, ['scripts/build-processes.mjs'], { stdio: 'inherit' })
  const small = rankingOf(100_000)
  const large = rankingOf(1_000_000)

  await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  let connection = await mariadb.createConnection(connectionConfig(system.databaseUrl))
  await connection.query("INSERT INTO organisation (id, name, time_zone, created_at) VALUES (1, 'Bench', 'UTC', NOW())")
  await connection.query(
    "INSERT INTO domain (id, host, standing, created_at, updated_at) VALUES (1, 'bench.example', 'open', NOW(), NOW())",
  )
  for (let from = 1; from <= LINKS; from += 2000) {
    const rows = Array.from({ length: 2000 }, (_, index) => from + index)
    await connection.query(
      'INSERT INTO link (domain_id, slug, canonical, destination, destination_hash, status, visits_28, created_at, ' +
        `updated_at) VALUES ${rows.map(() => '(1, ?, ?, ?, SHA2(?, 256), 302, ?, NOW(3), NOW(3))').join(',')}`,
      rows.flatMap((number) => [
        `stop/${number}`,
        `stop/${number}`,
        `https://live.portanseltransit.example/departures?stop=${number}`,
        String(number),
        number % 300,
      ]),
    )
  }
  await connection.end()
  const lead = system.start('gateway', ['dist/gateway.mjs'], { FIDES_TRUSTED_PROXIES: '127.0.0.1' })
  await untilAnswers(
    `${system.control}/health`,
    60_000,
    async (response) => ((await response.json()) as { links: number }).links === LINKS,
  )
  // The one that leads answers nobody.
  const pid = family(lead.child.pid!)[1]!
  const health = async () =>
    (await (await fetch(`${system.control}/health`)).json()) as {
      likely: { ranked: number; remembered: number; givenUp: Record<string, number> }
    }
  await load('good', SECONDS)
  await load('misses', SECONDS)

  // What one request costs the gateway, by processor time of all its threads.
  // One visitor after the other: under a flood ranking is given up, and would not be measured.
  const cost = async (mode: string) => {
    const before = usageOf(pid).cpu
    const { requests } = await load(mode, SECONDS, 0, 1)
    return (usageOf(pid).cpu - before) / requests
  }
  const before = (await health()).likely
  const ratios: number[] = []
  const costs = { redirect: [] as number[], notFound: [] as number[] }
  for (let number = 0; number < ROUNDS; number++) {
    const redirect = await cost('good')
    const notFound = await cost('misses')
    ratios.push(notFound / redirect)
    costs.redirect.push(redirect)
    costs.notFound.push(notFound)
    print(`round ${number + 1}: redirect ${redirect.toFixed(1)} µs, not found ${notFound.toFixed(1)} µs`)
  }
  const { likely } = await health()
  const ranked = {
    ranked: likely.ranked - before.ranked,
    remembered: likely.remembered - before.remembered,
    givenUp:
      Object.values(likely.givenUp).reduce((a, b) => a + b, 0) -
      Object.values(before.givenUp).reduce((a, b) => a + b, 0),
  }

  // A scan among good requests, against as many requests for one path among them.
  await new Promise((resolve) => setTimeout(resolve, 3000))
  const memoryBefore = usageOf(pid).megabytes
  const asking = keepAsking()
  const shares: number[] = []
  let scanned = 0
  let errors = 0
  while (scanned < SCAN_PATHS) {
    const one = await load('one', SECONDS)
    const scan = await load('scan', SECONDS * 2, scanned)
    scanned += Math.floor(scan.requests / 2)
    errors += one.errors + scan.errors
    shares.push(scan.requests / scan.seconds / (one.requests / one.seconds))
    print(`scanned ${scanned.toLocaleString('en')} paths; ${round(shares.at(-1)!)} of the throughput of one path`)
  }
  const asked = asking()
  const memoryAfter = usageOf(pid).megabytes
  // What waits in the spool counts as kept: the database takes it at its own pace.
  await system.end('gateway')
  connection = await mariadb.createConnection(connectionConfig(system.databaseUrl))
  const kept = new Map<string, number>()
  const [told] = await connection.query('SELECT COALESCE(SUM(requests), 0) AS requests FROM miss_cut')
  let cut = Number(told.requests)
  const note = (path: string, count: number) => kept.set(path, (kept.get(path) ?? 0) + count)
  const stored: { path: string; count: bigint }[] = await connection.query(
    'SELECT path, COUNT(*) AS count FROM miss_event GROUP BY path',
  )
  for (const { path, count } of stored) note(path, Number(count))
  for (const file of readdirSync(folder, { recursive: true }) as string[])
    if (/spool.*\.(?:ready|open)$/.test(file))
      for (const line of readFileSync(join(folder, file), 'utf8').split('\n')) {
        const event = readEvent(line)
        if (event?.outcome === 'not-found') note(event.path, 1)
        cut += readCut(line)?.requests ?? 0
      }
  await connection.end()
  await system.leave()
  print(
    JSON.stringify({
      bench: 'misses',
      ranking: [small, large],
      growth: round(large.meanMs / small.meanMs, 2),
      notFoundToRedirect: round(median(ratios), 2),
      redirectMicroseconds: round(median(costs.redirect), 1),
      notFoundMicroseconds: round(median(costs.notFound), 1),
      ranked,
      scan: {
        paths: scanned,
        throughputOfOnePath: round(median(shares)),
        megabytesMore: round(memoryAfter - memoryBefore, 1),
        pathsKept: kept.size,
        mostKept: (ADMISSION.paths + ADMISSION.mostPromoted + ADMISSION.carried) * 2,
        realDemandKept: round((kept.get('stpo/4417') ?? 0) / asked),
        cutAndCounted: cut,
        errors,
      },
    }),
  )
})
