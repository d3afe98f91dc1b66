// npm run bench:live: from an edit committed to its answer live at the slowest of four gateways, at a million links.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { request as httpRequest } from 'node:http'
import mariadb from 'mariadb'
import { connectionConfig } from '../environment/database-url'
import { BENCH_HOST, fillLinks, quantile, round, slugOf } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { untilAnswers } from './processes'
import { runCommand } from './run-command'

const LINKS = Number(process.argv[2] ?? 1_000_000)
const EDITS = Number(process.argv[3] ?? 1000)
const GATEWAYS = 4
const PAUSE_MS = 20

const system = await BenchSystem.make()
const gateway = system.settings.FIDES_GATEWAY_PORT

interface Health {
  revision: number
  links: number
  processes: number
}
const health = async () => (await (await fetch(`${system.control}/health`)).json()) as Health
const location = (slug: string): Promise<string | undefined> =>
  new Promise((resolve, reject) =>
    httpRequest({ host: '127.0.0.1', port: gateway, path: `/${slug}`, headers: { host: BENCH_HOST } }, (response) => {
      response.resume()
      resolve(response.headers.location)
    })
      .on('error', reject)
      .end(),
  )

await runCommand(system, async () => {
  if (!existsSync('dist/gateway.mjs') || process.env.FIDES_REBUILD)
    spawnSync(process.execPath, ['scripts/build-processes.mjs'], { stdio: 'inherit' })
  await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  await fillLinks(system.databaseUrl, 1, LINKS)
  print(`starting ${GATEWAYS} gateways`)
  system.start('gateway', ['dist/gateway.mjs'], { FIDES_GATEWAY_PROCESSES: String(GATEWAYS) })
  await untilAnswers(`${system.control}/health`, 600_000, async (response) => {
    const told = (await response.json()) as Health
    return told.links === LINKS && told.processes === GATEWAYS
  })
  // The threads that rank misses take the links in as well; they are no part of an edit.
  await new Promise((resolve) => setTimeout(resolve, 60_000))
  const connection = await mariadb.createConnection(connectionConfig(system.databaseUrl))
  const times: number[] = []
  let wrong = 0
  for (let edit = 1; edit <= EDITS; edit++) {
    const number = 1 + Math.floor(Math.random() * LINKS)
    const destination = `https://moved.example/${edit}`
    await connection.beginTransaction()
    const [{ revision }] = await connection.query('SELECT revision FROM organisation WHERE id = 1 FOR UPDATE')
    const next = Number(revision) + 1
    await connection.query('UPDATE link SET destination = ? WHERE canonical = ? AND domain_id = 1', [
      destination,
      slugOf(number),
    ])
    const [{ id }] = await connection.query('SELECT id FROM link WHERE canonical = ? AND domain_id = 1', [
      slugOf(number),
    ])
    await connection.query(
      'INSERT INTO ledger_entry (revision, at, actor, action, subject_kind, subject_id, subject_label, reason, ' +
        "before_state, after_state) VALUES (?, UTC_TIMESTAMP(3), 'bench', 'change', 'link', ?, ?, '', ?, '{}')",
      [next, id, slugOf(number), JSON.stringify({ domainId: 1, canonical: slugOf(number) })],
    )
    await connection.query('UPDATE organisation SET revision = ? WHERE id = 1', [next])
    const began = performance.now()
    await connection.commit()
    // As the desk does after each change.
    await fetch(`${system.control}/nudge`, { method: 'POST' })
    while ((await health()).revision < next);
    times.push(performance.now() - began)
    if ((await location(slugOf(number))) !== destination) wrong++
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
  }
  await connection.end()
  await system.leave()
  print(
    JSON.stringify({
      bench: 'live',
      links: LINKS,
      gateways: GATEWAYS,
      edits: EDITS,
      p50Ms: round(quantile(times, 0.5), 1),
      p95Ms: round(quantile(times, 0.95), 1),
      p99Ms: round(quantile(times, 0.99), 1),
      mostMs: round(Math.max(...times), 1),
      wrong,
    }),
  )
})
