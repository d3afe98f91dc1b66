// npm run bench:checks: 10,000 targets on 200 stand-in hosts by two workers, one of them killed in the middle; what
// politeness keeps to; what the desk's list costs meanwhile; and how fast evidence is judged.
import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { judge, type Evidence } from '../core/targets'
import { migrate } from '../server/database/migrate'
import { openDatabase } from '../server/database/open'
import { ensureTargets } from '../server/usecases/targets/link-targets'
import { listLinks } from '../server/usecases/links/list-links'
import { linkListQuery } from '../core/schemas'
import { SitesWorld } from '../standins/sites/world'
import { benchLink } from './bench-link'
import { startMariaDb } from './mariadb'
import { freePort } from './ports'

const HOSTS = Number(process.env.FIDES_BENCH_HOSTS ?? 200)
const EACH = Number(process.env.FIDES_BENCH_EACH ?? 50)
const POLITE_MS = 20_000
const POLITE = { perHost: 2, perSecond: 5, hosts: 8 }
const TARGETS = HOSTS * EACH
const MB = 1e6

const folder = mkdtempSync(join(tmpdir(), 'fides-bench-'))
const server = await startMariaDb(folder, await freePort())
const db = openDatabase(server.url)
const sites = await SitesWorld.start()
const workers = new Set<ChildProcess>()
const percentile = (numbers: number[], share: number) =>
  [...numbers].sort((a, b) => a - b)[Math.min(numbers.length - 1, Math.floor(numbers.length * share))] ?? 0

/** A worker of its own, which checks and nothing else; tells what memory it took at most. */
function startWorker(polite: boolean): { child: ChildProcess; rssMB: () => number } {
  const child = spawn(process.execPath, ['--import', 'tsx', 'scripts/bench-checks-worker.ts'], {
    env: {
      ...process.env,
      FIDES_DATABASE_URL: server.url,
      FIDES_BENCH_PORT: String(sites.httpPort),
      FIDES_BENCH_POLITE: polite ? '1' : '',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  workers.add(child)
  let most = 0
  child.stdout!.setEncoding('utf8').on('data', (text: string) => {
    for (const line of text.trim().split('\n')) most = Math.max(most, Number(line) || 0)
  })
  return { child, rssMB: () => Math.round(most / MB) }
}
const ended = (child: ChildProcess) =>
  child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise<void>((resolve) => child.once('exit', () => resolve()))
async function end(child: ChildProcess, signal: 'SIGTERM' | 'SIGKILL'): Promise<void> {
  child.kill(signal)
  await ended(child)
  workers.delete(child)
}
const checked = async () =>
  Number(
    (
      await db.sequelize.query<{ n: number }>('SELECT COUNT(*) AS n FROM target WHERE checks > 0', {
        type: QueryTypes.SELECT,
      })
    )[0]!.n,
  )

let figures: object
try {
  await migrate(db.sequelize)
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'UTC', createdAt })
  const domain = await db.Domain.create({ host: 'many.example', standing: 'open', createdAt, updatedAt: createdAt })
  for (let host = 0; host < HOSTS; host++) {
    const paths = Array.from({ length: EACH }, (_, page) => [`/part/${page}`, `Page ${page} of host ${host}`])
    sites.put({ host: `h${host}.many.example`, title: `Host ${host}`, pages: Object.fromEntries(paths) as never })
  }
  for (let host = 0; host < HOSTS; host++)
    await db.Link.bulkCreate(
      Array.from({ length: EACH }, (_, page) =>
        benchLink({
          domainId: domain.id,
          slug: `h/${host}/${page}`,
          destination: `http://h${host}.many.example/part/${page}`,
          visits28: page,
        }),
      ),
    )

  await ensureTargets(db, null)
  // As after a long rest: all are due at once.
  await db.Target.update({ dueAt: createdAt }, { where: {} })
  const began = performance.now()
  const first = startWorker(false)
  const second = startWorker(false)
  const waits: number[] = []
  let killed = false
  let killedAt = 0
  while ((await checked()) < TARGETS) {
    const asked = performance.now()
    await listLinks(db, linkListQuery.parse({ sort: 'visits' }))
    waits.push(performance.now() - asked)
    if (!killed && (await checked()) > TARGETS / 3) {
      killedAt = await checked()
      await end(second.child, 'SIGKILL')
      killed = true
      // What it had leased would wait for its lease to end; the next worker is told that it is gone.
      await db.sequelize.query(
        'UPDATE target SET leased_until = UTC_TIMESTAMP(3) WHERE leased_until IS NOT NULL AND leased_by NOT LIKE ?',
        { replacements: [`bench-${first.child.pid}%`] },
      )
      const third = startWorker(false)
      void third
    }
    await new Promise((resolve) => setTimeout(resolve, 100))
    if (performance.now() - began > 600_000) throw new Error('the checks did not end within ten minutes')
  }
  const seconds = (performance.now() - began) / 1000
  for (const child of [...workers]) await end(child, 'SIGTERM')
  const [counts] = await db.sequelize.query<{ written: number; most: number; sound: number }>(
    `SELECT COUNT(*) AS written,
      (SELECT MAX(n) FROM (SELECT COUNT(*) AS n FROM target_check GROUP BY target_id) each_one) AS most,
      (SELECT COUNT(*) FROM target WHERE verdict = 'sound') AS sound FROM target_check`,
    { type: QueryTypes.SELECT },
  )

  // Politeness: what hosts see of two workers that keep to it.
  const times = new Map<string, number[]>()
  sites.seen = ({ host }) => times.set(host, [...(times.get(host) ?? []), performance.now()])
  await db.Organisation.update({ checkPerHost: POLITE.perHost, checkPerSecond: POLITE.perSecond }, { where: { id: 1 } })
  await db.sequelize.query(
    `UPDATE target SET due_at = IF(CAST(SUBSTRING(host, 2, LOCATE('.', host) - 2) AS UNSIGNED) < ?, UTC_TIMESTAMP(3),
      DATE_ADD(UTC_TIMESTAMP(3), INTERVAL 1 DAY)), leased_until = NULL`,
    { replacements: [POLITE.hosts] },
  )
  startWorker(true)
  startWorker(true)
  await new Promise((resolve) => setTimeout(resolve, POLITE_MS))
  for (const child of [...workers]) await end(child, 'SIGTERM')
  const perSecond = [...times.values()].map((list) => busiestSecond(list))

  const evidence = (await db.Target.findOne({ where: { verdict: 'sound' } }))!.evidence as Evidence
  const judging = performance.now()
  const TIMES = 100_000
  for (let time = 0; time < TIMES; time++) judge(evidence)
  const judgedASecond = Math.round(TIMES / ((performance.now() - judging) / 1000))
  figures = {
    targets: TARGETS,
    hosts: HOSTS,
    seconds: Number(seconds.toFixed(1)),
    ratioToLimit: Number((seconds / 120).toFixed(2)),
    aSecond: Math.round(TARGETS / seconds),
    workerRssMB: first.rssMB(),
    memoryLimitMB: 300,
    killedAfter: killedAt,
    checksWritten: Number(counts!.written),
    mostOfOneTarget: Number(counts!.most),
    sound: Number(counts!.sound),
    listP95Ms: Number(percentile(waits, 0.95).toFixed(1)),
    polite: { ...POLITE, busiestSecond: Math.max(0, ...perSecond), hostsAsked: times.size },
    judgedASecond,
  }
} finally {
  for (const child of [...workers]) await end(child, 'SIGKILL')
  await sites.stop()
  await db.sequelize.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
}
process.stdout.write(JSON.stringify({ bench: 'checks', ...figures }) + '\n')

/** The most requests in any one second. */
function busiestSecond(list: readonly number[]): number {
  let most = 0
  let from = 0
  list.forEach((time, to) => {
    while (time - list[from]! >= 1000) from++
    most = Math.max(most, to - from + 1)
  })
  return most
}
