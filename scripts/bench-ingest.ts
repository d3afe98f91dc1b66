// npm run bench:ingest: waiting spools into MariaDB by the shipper, while people use the desk.
import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { fillLinks, quantile, round } from './bench-load'
import { fillSpool } from './bench-spool'
import { BenchSystem, print } from './bench-system'
import { benchToken } from './bench-token'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const LINKS = 100_000
const VISITS = Number(process.argv[2] ?? 1_000_000)
const PEOPLE = 3

const system = await BenchSystem.make()
const { folder } = system.settings

await runCommand(system, async () => {
  buildIfChanged(print)
  if (!existsSync('dist/shipper.mjs'))
    spawnSync(process.execPath, ['scripts/build-processes.mjs'], { stdio: 'inherit' })
  const db = await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  await fillLinks(system.databaseUrl, 1, LINKS)
  const secret = await benchToken(db, 'viewer')
  await system.startApplication({ FIDES_RESOLVERS: 'nobody=127.0.0.1:9' })
  // The shipper begins with all of it waiting.
  await system.end('shipper')
  print(`writing ${VISITS.toLocaleString('en')} visits into the spool`)
  fillSpool(join(folder, 'gateway'), VISITS, LINKS)
  // Connections that were closed while nobody listened are noticed first.
  await new Promise((resolve) => setTimeout(resolve, 500))
  const times: number[] = []
  let going = true
  const ask = async (path: string) => {
    const began = performance.now()
    const response = await fetch(`${system.adminAddress}/api/v1${path}`, {
      headers: { authorization: `Bearer ${secret}` },
    })
    await response.arrayBuffer()
    if (!response.ok) throw new Error(`${path}: ${response.status}`)
    times.push(performance.now() - began)
  }
  await ask('/links?limit=50')
  times.length = 0
  const began = performance.now()
  system.start('shipper', ['dist/shipper.mjs'])
  const people = Array.from({ length: PEOPLE }, async (_, index) => {
    while (going) {
      await ask(['/links?limit=50', '/cases', `/links/${1 + Math.floor(Math.random() * LINKS)}`][index % 3]!)
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  })
  const spool = join(folder, 'gateway', 'spool')
  while (readdirSync(spool).some((name) => name.endsWith('.ready')))
    await new Promise((resolve) => setTimeout(resolve, 50))
  const seconds = (performance.now() - began) / 1000
  going = false
  await Promise.all(people)
  const [{ stored } = { stored: 0 }] = await db.sequelize.query<{ stored: number }>(
    'SELECT SUM(events) AS stored FROM visit_part',
    { type: QueryTypes.SELECT },
  )
  const [{ counted } = { counted: 0 }] = await db.sequelize.query<{ counted: number }>(
    'SELECT SUM(visits) AS counted FROM visit_day',
    { type: QueryTypes.SELECT },
  )
  await system.leave()
  print(
    JSON.stringify({
      bench: 'ingest',
      visits: VISITS,
      stored: Number(stored),
      counted: Number(counted),
      perSecond: Math.round(VISITS / seconds),
      deskRequests: times.length,
      deskP50Ms: round(quantile(times, 0.5), 1),
      deskP95Ms: round(quantile(times, 0.95), 1),
    }),
  )
})
