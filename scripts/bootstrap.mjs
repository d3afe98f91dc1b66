// The part of every command that runs before any package is there: checks Node, installs what is missing from
// Debian and from the lock file, then hands over to the TypeScript script of the same name.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, statfsSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const [command, ...rest] = process.argv.slice(2)
const COMMANDS = {
  demo: { debian: ['mariadb-server'] },
  start: { debian: ['mariadb-server'] },
  dev: { debian: ['mariadb-server'] },
  backup: { debian: ['mariadb-server'] },
  restore: { debian: ['mariadb-server'] },
  test: {
    debian: [
      'mariadb-server',
      'chromium',
      'bind9',
      'bind9-utils',
      'bind9-dnsutils',
      'knot',
      'unbound',
      'caddy',
      'pebble',
      'nginx-light',
      'apache2',
      'curl',
      'jq',
    ],
  },
  'test-fresh': { debian: ['chromium', 'pebble', 'mmdebstrap'], script: 'tests/fresh/walk-through.ts' },
  'bench-checks': { debian: ['mariadb-server'] },
  'bench-conflicts': { debian: ['mariadb-server'] },
  'bench-domains': { debian: ['mariadb-server'] },
  'bench-together': { debian: ['mariadb-server'] },
  'bench-register': { debian: ['mariadb-server'] },
  'bench-desk': { debian: ['mariadb-server', 'chromium'] },
  'bench-gateway': { debian: ['mariadb-server', 'wrk', 'caddy', 'nginx-light', 'apache2'] },
  'bench-replay': { debian: ['mariadb-server'] },
  'bench-changes': { debian: ['mariadb-server'] },
  'bench-exchange': { debian: ['mariadb-server'] },
  'bench-ingest': { debian: ['mariadb-server'] },
  'bench-traffic': { debian: ['mariadb-server'] },
  'bench-live': { debian: ['mariadb-server'] },
  'bench-kills': { debian: ['mariadb-server'] },
  'bench-doors': { debian: ['mariadb-server'] },
  'fuzz-gateway': { debian: ['mariadb-server'] },
  upgrade: { debian: ['mariadb-server'] },
  'deploy-check': { debian: [] },
  'front-configuration': { debian: [] },
  'bench-misses': { debian: ['mariadb-server', 'wrk'] },
}
const PROGRAMS = {
  'mariadb-server': 'mariadbd',
  chromium: 'chromium',
  mmdebstrap: 'mmdebstrap',
  wrk: 'wrk',
  bind9: 'named',
  'bind9-utils': 'named-checkzone',
  'bind9-dnsutils': 'nsupdate',
  knot: 'knotd',
  unbound: 'unbound',
  caddy: 'caddy',
  pebble: 'pebble',
  'nginx-light': 'nginx',
  apache2: 'apache2',
  curl: 'curl',
  jq: 'jq',
}
const MEGABYTES_NEEDED = 1500

function stop(line) {
  process.stderr.write(`Fides cannot start. ${line}\n`)
  process.exit(1)
}

const found = (program) =>
  spawnSync('sh', ['-c', `command -v ${program}`], {
    env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/usr/local/sbin` },
  }).status === 0

function installDebian(packages) {
  const missing = packages.filter((name) => !found(PROGRAMS[name]))
  if (missing.length === 0) return
  const list = missing.join(' ')
  if (process.getuid?.() !== 0)
    stop(`These Debian packages are missing: ${list}. Ask an administrator to run: apt-get install ${list}`)
  process.stdout.write(`installing ${list} from Debian\n`)
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  spawnSync('apt-get', ['update', '-qq'], { stdio: ['ignore', 'ignore', 'inherit'], env: environment })
  // Another installation on a fresh machine may hold the lock for a while.
  const run = spawnSync(
    'apt-get',
    ['install', '-y', '-qq', '-o', 'DPkg::Lock::Timeout=300', '--no-install-recommends', ...missing],
    { encoding: 'utf8', env: environment },
  )
  if (run.status !== 0)
    stop(`Debian could not install ${list}: ${(run.stderr || run.error?.message || '').trim().split('\n').at(-1)}`)
}

function installPackages() {
  const stamp = join(root, 'node_modules', '.fides-installed')
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(process.version)
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  process.stdout.write('installing packages from the lock file\n')
  // Output aside: a long installation is quiet unless it fails.
  const run = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  if (run.status !== 0) stop('npm ci failed; its message stands above.')
  writeFileSync(stamp, wanted)
}

const chosen = COMMANDS[command]
if (!chosen) stop(`There is no command “${command}”.`)
const [major, minor] = process.versions.node.split('.').map(Number)
if (major < 20 || (major === 20 && minor < 20)) stop(`Node 20.20 or later is needed; this is ${process.version}.`)
const data = process.env.FIDES_DATA ?? join(root, '.data')
try {
  mkdirSync(data, { recursive: true })
} catch (error) {
  stop(`The data folder ${data} cannot be made: ${error.message}`)
}
const needed = Number(process.env.FIDES_MEGABYTES_NEEDED ?? MEGABYTES_NEEDED)
const disk = statfsSync(data)
const free = Math.floor((disk.bavail * disk.bsize) / 1e6)
const isFull = free < needed
const isBuilt = ['node_modules/.bin/tsx', 'dist/gateway.mjs', '.output/server/index.mjs'].every((file) =>
  existsSync(join(root, file)),
)
// Printed addresses must answer on a full disk as well: what writes waits, the gateway starts from its snapshot.
if (isFull && !(command === 'start' && isBuilt))
  stop(`The disk is nearly full: ${free} MB are free where the data folder is, ${needed} MB are needed.`)
if (isFull) process.env.FIDES_MEGABYTES_NEEDED = String(needed)
else {
  installDebian([...chosen.debian, ...(command === 'start' && process.env.FIDES_FRONT === 'on' ? ['caddy'] : [])])
  installPackages()
}

const child = spawn(
  process.execPath,
  ['--import', 'tsx', join(root, chosen.script ?? `scripts/${command}.ts`), ...rest],
  {
    cwd: root,
    stdio: 'inherit',
  },
)
// Ctrl-C reaches the child too, as one of the same terminal; other signals are passed on.
process.on('SIGINT', () => undefined)
process.on('SIGTERM', () => child.kill('SIGTERM'))
// npm that is ended by a signal does not tell its script: whoever started us being gone means stop, too.
const parent = process.ppid
setInterval(() => process.ppid !== parent && child.kill('SIGTERM'), 500).unref()
child.on('exit', (code, signal) => process.exit(code ?? (signal ? 1 : 0)))
