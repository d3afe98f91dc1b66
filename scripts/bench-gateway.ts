// npm run bench:gateway: our gateway, visit logging on, against a bare node:http server, alternating in one run.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import mariadb from 'mariadb'
import { connectionConfig } from '../environment/database-url'
import { freePort } from './ports'
import { startNode, untilAnswers } from './processes'
import { runCommand, System } from './system'

const LINKS = 100_000
const ROUNDS = 15
const SECONDS = 2
const CONNECTIONS = 32

const print = (line: string) => process.stdout.write(line + '\n')
const folder = mkdtempSync(join(tmpdir(), 'fides-bench-'))
const [admin, gateway, control, database, barePort] = await Promise.all([
  freePort(),
  freePort(),
  freePort(),
  freePort(),
  freePort(),
])
const system = new System(
  {
    folder,
    FIDES_DATA: folder,
    FIDES_ADMIN_HOST: '127.0.0.1',
    FIDES_ADMIN_PORT: admin,
    FIDES_GATEWAY_HOST: '127.0.0.1',
    FIDES_GATEWAY_PORT: gateway,
    FIDES_GATEWAY_CONTROL_PORT: control,
    FIDES_DATABASE_PORT: database,
  },
  (line) => process.env.FIDES_VERBOSE && print(line),
)
const median = (numbers: number[]) => [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!
const round = (number: number, digits = 3) => Number(number.toFixed(digits))

interface Figures {
  requests: number
  seconds: number
  /** Microseconds. */
  p99: number
  errors: number
}

function load(port: number, seconds: number): Promise<Figures> {
  return new Promise((resolve, reject) => {
    const wrk = spawn(
      'wrk',
      ['-t1', `-c${CONNECTIONS}`, `-d${seconds}s`, '-s', 'scripts/bench-gateway.lua', `http://127.0.0.1:${port}/`],
      { env: { ...process.env, LINKS: String(LINKS) } },
    )
    let text = ''
    wrk.stdout.on('data', (piece) => (text += piece))
    wrk.on('error', reject)
    wrk.on('exit', () => {
      const line = text.split('\n').find((candidate) => candidate.startsWith('{'))
      if (line) resolve(JSON.parse(line) as Figures)
      else reject(new Error(`wrk said: ${text}`))
    })
  })
}

async function startGateway(): Promise<number> {
  const began = performance.now()
  system.start('gateway', ['dist/gateway.mjs'])
  await untilAnswers(
    `http://127.0.0.1:${control}/health`,
    60_000,
    async (response) => ((await response.json()) as { links: number }).links === LINKS,
  )
  return (performance.now() - began) / 1000
}

await runCommand(system, async () => {
  if (!existsSync('dist/gateway.mjs') || process.env.FIDES_REBUILD)
    spawnSync(process.execPath, ['scripts/build-processes.mjs'], { stdio: 'inherit' })
  await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  const connection = await mariadb.createConnection(connectionConfig(system.databaseUrl))
  await connection.query(
    "INSERT INTO organisation (id, name, time_zone, created_at) VALUES (1, 'Bench', 'Europe/Lisbon', NOW())",
  )
  await connection.query(
    "INSERT INTO domain (id, host, standing, created_at, updated_at) VALUES (1, 'bench.example', 'open', NOW(), NOW())",
  )
  for (let from = 1; from <= LINKS; from += 2000) {
    const rows = Array.from({ length: 2000 }, (_, index) => from + index)
    await connection.query(
      'INSERT INTO link (domain_id, slug, canonical, destination, destination_hash, status, created_at, ' +
        `updated_at) VALUES ${rows.map(() => '(1, ?, ?, ?, SHA2(?, 256), 302, NOW(3), NOW(3))').join(',')}`,
      rows.flatMap((number) => [
        `stop/${number}`,
        `stop/${number}`,
        `https://live.portanseltransit.example/departures?stop=${number}`,
        String(number),
      ]),
    )
  }
  await connection.end()

  const databaseStartSeconds = await startGateway()
  // A stop writes the snapshot; the next start finds it.
  await system.processes.pop()!.stop()
  const coldStartSeconds = await startGateway()
  const memory = JSON.parse(
    spawnSync(
      process.execPath,
      ['--expose-gc', '--import', 'tsx', 'scripts/bench-memory.ts', join(folder, 'gateway/1/table.snapshot')],
      { encoding: 'utf8' },
    ).stdout,
  ) as { bytesPerLink: number }

  const bare = startNode('bare', ['scripts/bench-bare.mjs', String(barePort)], {}, print, () => undefined)
  await untilAnswers(`http://127.0.0.1:${barePort}/`)
  print('warming up')
  await load(barePort, SECONDS)
  await load(gateway, SECONDS)
  const ratios: number[] = []
  const p99Ratios: number[] = []
  let errors = 0
  for (let number = 1; number <= ROUNDS; number++) {
    // Who goes first changes from round to round, so that a machine slowing down favours neither.
    const first = number % 2 ? await load(barePort, SECONDS) : undefined
    const ours = await load(gateway, SECONDS)
    const theirs = first ?? (await load(barePort, SECONDS))
    ratios.push(ours.requests / ours.seconds / (theirs.requests / theirs.seconds))
    p99Ratios.push(ours.p99 / theirs.p99)
    // A bare 302 counts as no error for wrk; neither does ours.
    errors += ours.errors
    print(
      `round ${number}: ours ${Math.round(ours.requests / ours.seconds).toLocaleString('en')}/s, p99 ` +
        `${round(ours.p99 / 1000, 2)} ms; bare ` +
        `${Math.round(theirs.requests / theirs.seconds).toLocaleString('en')}/s, p99 ` +
        `${round(theirs.p99 / 1000, 2)} ms`,
    )
  }
  await bare.stop()
  await system.stop()
  rmSync(folder, { recursive: true, force: true })
  print(
    JSON.stringify({
      bench: 'gateway',
      links: LINKS,
      ratioToBareNode: round(median(ratios)),
      p99RatioToBareNode: round(median(p99Ratios)),
      bytesPerLink: memory.bytesPerLink,
      coldStartSeconds: round(coldStartSeconds, 2),
      databaseStartSeconds: round(databaseStartSeconds, 2),
      errors,
    }),
  )
})
