// npm run upgrade: from the folder of the new release, while the old one serves. Builds, backs up, brings the database
// forward, and has fresh processes take over from the old ones; no visitor notices.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { migrate } from '../server/database/migrate'
import { openDatabase } from '../server/database/open'
import { dumpDatabase, reachDatabase } from './dump'
import { buildIfChanged } from './build'
import { readSystemSettings } from './settings'

const UNITS = ['fides-shipper', 'fides-worker', 'fides-desk']
const PATIENCE_MS = 300_000
const settings = readSystemSettings('production')
const print = (line: string) => process.stdout.write(line + '\n')
const stop = (line: string): never => {
  process.stderr.write(`The upgrade stopped. ${line}\n`)
  process.exit(1)
}

interface Told {
  handovers: number
  status: string
}
const health = () =>
  fetch(`http://127.0.0.1:${settings.FIDES_GATEWAY_CONTROL_PORT}/health`, { signal: AbortSignal.timeout(3000) })
    .then((response) => response.json() as Promise<Told>)
    .catch(() => undefined)

const before = await health()
if (!before) stop('No gateway runs here; npm start does all an upgrade does.')
try {
  buildIfChanged(print)
} catch (error) {
  stop((error as Error).message)
}
const { url, leave } = await reachDatabase(settings)
const backups = join(settings.folder, 'backups')
mkdirSync(backups, { recursive: true, mode: 0o700 })
const file = join(backups, `before-upgrade-${new Date().toISOString().replace(/[:.]/g, '-')}.sql`)
print(`${file}: ${(await dumpDatabase(url, file)).toLocaleString('en')} octets`)
const db = openDatabase(url, { poolSize: 2 })
const done = await migrate(db.sequelize).catch((error: Error) => stop(`${error.message}. The backup is ${file}.`))
await db.sequelize.close()
await leave()
print(done.length > 0 ? `database: ran ${done.join(', ')}` : 'database: nothing to run')

const bySystemd = spawnSync('systemctl', ['is-active', '--quiet', 'fides-gateway']).status === 0
if (bySystemd) {
  for (const args of [
    ['reload', 'fides-gateway'],
    ['restart', ...UNITS],
  ])
    if (spawnSync('systemctl', args, { stdio: 'inherit' }).status !== 0) stop(`systemctl ${args.join(' ')} failed.`)
} else {
  const pidFile = join(settings.folder, 'start.pid')
  if (!existsSync(pidFile)) stop(`${pidFile} is missing: which process keeps the others is not known.`)
  process.kill(Number(readFileSync(pidFile, 'utf8')), 'SIGHUP')
}
const give = Date.now() + PATIENCE_MS
for (;;) {
  const now = await health()
  if (now && now.handovers > before!.handovers && now.status === 'ok') break
  if (Date.now() > give) stop('The gateway did not hand over; the old one goes on serving. Its log says why.')
  await new Promise((resolve) => setTimeout(resolve, 200))
}
print('The new release serves.')
