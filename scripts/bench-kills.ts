// npm run bench:kills [-- KILLS SEED]: processes killed at random moments under load with edits going on.
import { BenchSystem, print } from './bench-system'
import { benchToken } from './bench-token'
import { buildIfChanged } from './build'
import { killRun } from './kill-run'
import { runCommand } from './run-command'

const KILLS = Number(process.argv[2] ?? 300)
const SEED = Number(process.argv[3] ?? Date.now() % 1e9)
const LINKS = 20

const system = await BenchSystem.make()

await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Kills', timeZone: 'UTC', createdAt })
  await db.Domain.create({ host: 'kills.example', standing: 'open', createdAt, updatedAt: createdAt })
  const secret = await benchToken(db, 'editor')
  await system.startApplication({ FIDES_RESOLVERS: 'nobody=127.0.0.1:9', FIDES_GATEWAY_PROCESSES: '2' })
  const call = async (method: string, path: string, body?: object, more: Record<string, string> = {}) => {
    const response = await fetch(`${system.adminAddress}/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${secret}`, 'content-type': 'application/json', ...more },
      body: body && JSON.stringify(body),
      signal: AbortSignal.timeout(15_000),
    })
    return {
      status: response.status,
      body: (await response.json()) as { id: number; version: number; destination: string },
    }
  }
  const links: { id: number; slug: string; destination: string }[] = []
  for (let number = 1; number <= LINKS; number++) {
    const destination = `https://first.example/${number}`
    const made = await call('POST', '/links', {
      domain: 'kills.example',
      slug: `printed-${number}`,
      destination,
      reason: 'x',
    })
    links.push({ id: made.body.id, slug: `printed-${number}`, destination })
  }
  // A snapshot with all of them, from which a killed gateway starts.
  await new Promise((resolve) => setTimeout(resolve, 6000))
  const figures = await killRun({
    system,
    db,
    host: 'kills.example',
    links,
    kills: KILLS,
    seed: SEED,
    pauseMs: 3000,
    print,
    async edit(link, destination) {
      const { body } = await call('GET', `/links/${links[link]!.id}`)
      const change = { destination, reason: 'kills' }
      return (
        (await call('PATCH', `/links/${links[link]!.id}`, change, { 'if-match': `"${body.version}"` })).status === 200
      )
    },
  })
  await system.leave()
  for (const line of figures.wrong.slice(0, 20)) print(line)
  print(JSON.stringify({ bench: 'kills', seed: SEED, ...figures, wrong: figures.wrong.length }))
  const { wrong, lost, refused, twice, miscounted } = figures
  process.exitCode = wrong.length + lost + refused + twice + miscounted > 0 ? 1 : 0
})
