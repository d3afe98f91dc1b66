import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from '../../../../scripts/ports'
import { ask, type ServerAddress } from '../../../../server/names/ask'

export const environment = { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/usr/local/sbin` }
export const KEY = { name: 'desk-key.', secret: Buffer.alloc(32, 11) }

/** A name server or resolver of another maker, run privately on loopback. */
export interface Program extends ServerAddress {
  /** Holds it, as a machine that is overloaded, and lets it go on. */
  hold(): void
  goOn(): void
  /** Has it read its zones again. */
  reload(): void
  stop(): Promise<void>
  /** Its private folder; the zones lie in it. */
  folder: string
}

/** How a zone is served: `primary` from its text, else taken from that server. */
export type Served =
  | { text: string; fixed?: boolean; policy?: string; prepare?: (folder: string) => void }
  | { from: ServerAddress; transferBy?: 'key' }

interface Launch {
  host?: string
  port?: number
}

/** Starts a program; on a port that was free a moment ago and is taken by then, on another. */
async function launch(...given: Parameters<typeof launchOnce>): Promise<Program> {
  for (let tries = 1; ; tries++) {
    try {
      return await launchOnce(...given)
    } catch (error) {
      if (tries === 3 || given[3]?.port !== undefined) throw error
    }
  }
}

async function launchOnce(
  command: string,
  args: (folder: string, port: number) => string[],
  write: (folder: string, port: number) => void,
  { host = '127.0.0.1', port: wished }: Launch = {},
): Promise<Program> {
  const folder = mkdtempSync(join(tmpdir(), `fides-${command}-`))
  const port = wished ?? (await freePort())
  write(folder, port)
  const child: ChildProcess = spawn(command, args(folder, port), {
    env: environment,
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  for (const stream of [child.stdout!, child.stderr!])
    stream.setEncoding('utf8').on('data', (piece: string) => (said = (said + piece).slice(-20_000)))
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  const give = Date.now() + 30_000
  while (!(await ask({ host, port }, 'version.bind.', 'SOA', { timeoutMs: 250, retries: 0 })).ok) {
    if (child.exitCode !== null || Date.now() > give) {
      child.kill('SIGKILL')
      throw new Error(`${command} does not answer:\n${said}`)
    }
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  return {
    host,
    port,
    folder,
    hold: () => child.kill('SIGSTOP'),
    goOn: () => child.kill('SIGCONT'),
    reload: () => child.kill('SIGHUP'),
    async stop() {
      child.kill('SIGCONT')
      child.kill('SIGTERM')
      await ended
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

export const secret = () => KEY.secret.toString('base64')
const fileOf = (origin: string) => `${origin}zone`

function writeZones(folder: string, zones: Record<string, Served>): void {
  for (const [origin, served] of Object.entries(zones)) {
    if (!('text' in served)) continue
    writeFileSync(join(folder, fileOf(origin)), served.text, 'latin1')
    served.prepare?.(folder)
  }
}

/** Debian's named (BIND 9) as an authoritative server; one key may update and transfer. */
export function startNamed(
  zones: Record<string, Served>,
  { host = '127.0.0.1', port, more = '', anybody = false, recurse = '', control }: Launch & NamedMore = {},
): Promise<Program> {
  const blocks = Object.entries(zones).map(([origin, served]) => {
    if ('from' in served)
      return (
        `zone "${origin}" { type secondary; file "${fileOf(origin)}"; masterfile-format text; ` +
        `primaries port ${served.from.port} { ${served.from.host} key desk-key; }; };`
      )
    const policy = served.fixed ? '' : 'update-policy { grant desk-key zonesub ANY; };'
    return `zone "${origin}" { type primary; file "${fileOf(origin)}"; ${policy} ${served.policy ?? ''} };`
  })
  const isV6 = host.includes(':')
  return launch(
    'named',
    (folder) => ['-g', '-n', '1', ...(isV6 ? ['-6'] : ['-4']), '-c', join(folder, 'named.conf')],
    (folder, at) => {
      writeZones(folder, zones)
      writeFileSync(
        join(folder, 'named.conf'),
        `key "desk-key" { algorithm hmac-sha256; secret "${secret()}"; };
controls { ${control ? `inet 127.0.0.1 port ${control} allow { 127.0.0.1; } keys { desk-key; };` : ''} };
options { directory "${folder}"; pid-file "${folder}/named.pid"; session-keyfile "${folder}/session.key";
  managed-keys-directory "${folder}"; key-directory "${folder}"; empty-zones-enable no;
  listen-on port ${at} { ${isV6 ? 'none' : host}; }; listen-on-v6 port ${at} { ${isV6 ? host : 'none'}; };
  ${recurse || 'recursion no; dnssec-validation no;'}
  allow-transfer { ${anybody ? 'any' : 'key desk-key'}; };
  min-refresh-time 1; min-retry-time 1; notify no; check-names primary ignore; servfail-ttl 0; };
${blocks.join('\n')}
${more}
`,
      )
    },
    { host, port },
  )
}
interface NamedMore {
  more?: string
  /** Anybody may take zones. */
  anybody?: boolean
  recurse?: string
  /** The port on which it takes orders (rndc). */
  control?: number
}

/** Debian's knotd (Knot DNS), another maker's authoritative server; one key may update and transfer. */
export function startKnot(
  zones: Record<string, Served>,
  { anybody = false }: { anybody?: boolean } = {},
): Promise<Program> {
  return launch(
    'knotd',
    (folder) => ['-c', join(folder, 'knot.conf')],
    (folder, port) => {
      writeZones(folder, zones)
      const list = Object.entries(zones).map(([origin, served]) =>
        'from' in served
          ? `  - domain: ${origin}\n    file: ${folder}/${fileOf(origin)}\n    master: [ ` +
            `upstream${served.from.port} ]\n`
          : `  - domain: ${origin}\n    file: ${folder}/${fileOf(origin)}\n` +
            `    acl: [ ${served.fixed ? 'take' : 'desk'}${anybody ? ', anybody' : ''} ]\n${served.policy ?? ''}`,
      )
      const upstreams = [...new Set(Object.values(zones).flatMap((served) => ('from' in served ? [served.from] : [])))]
      writeFileSync(
        join(folder, 'knot.conf'),
        `server:
    listen: 127.0.0.1@${port}
    rundir: ${folder}
    pidfile: ${folder}/knot.pid
    udp-workers: 1
    tcp-workers: 1
    tcp-io-timeout: 60000
    background-workers: 1
database:
    storage: ${folder}
    journal-db-max-size: 64M
    kasp-db-max-size: 16M
    timer-db-max-size: 16M
    catalog-db-max-size: 16M
log:
  - target: stderr
    any: info
key:
  - id: desk-key
    algorithm: hmac-sha256
    secret: ${secret()}
${upstreams.length > 0 ? 'remote:\n' : ''}${upstreams
          .map((up) => `  - id: upstream${up.port}\n    address: ${up.host}@${up.port}\n    key: desk-key\n`)
          .join('')}acl:
  - id: desk
    key: desk-key
    action: [ transfer, update ]
  - id: take
    key: desk-key
    action: [ transfer ]
  - id: anybody
    address: 127.0.0.1
    action: [ transfer ]
policy:
  - id: plain
    algorithm: ecdsap256sha256
    single-type-signing: on
  - id: hashed
    algorithm: ecdsap256sha256
    single-type-signing: on
    nsec3: on
template:
  - id: default
    storage: ${folder}
    semantic-checks: off
zone:
${list.join('')}`,
      )
    },
  )
}

/** Where a resolver asks for a zone. */
export type Upstreams = Record<string, readonly ServerAddress[]>

/** Debian's unbound as a caching, validating resolver of these zones; `anchors` are DS records of trusted ones. */
export function startUnbound(zones: Upstreams, anchors: readonly string[] = []): Promise<Program> {
  return launch(
    'unbound',
    (folder) => ['-d', '-c', join(folder, 'unbound.conf')],
    (folder, port) => {
      const stubs = Object.entries(zones).map(
        ([origin, servers]) =>
          `stub-zone:\n  name: "${origin}"\n` +
          servers.map((server) => `  stub-addr: ${server.host}@${server.port}\n`).join(''),
      )
      writeFileSync(
        join(folder, 'unbound.conf'),
        `server:
  interface: 127.0.0.1@${port}
  port: ${port}
  access-control: 127.0.0.0/8 allow
  directory: "${folder}"
  chroot: ""
  username: ""
  pidfile: "${folder}/unbound.pid"
  use-syslog: no
  logfile: ""
  do-daemonize: no
  do-not-query-localhost: no
  do-ip6: yes
  num-threads: 1
  prefetch: no
  ede: yes
  qname-minimisation: no
  infra-host-ttl: 1
  module-config: "${anchors.length > 0 ? 'validator ' : ''}iterator"
  local-zone: "test." nodefault
${anchors.map((anchor) => `  trust-anchor: "${anchor}"\n`).join('')}remote-control:
  control-enable: no
${stubs.join('')}`,
      )
    },
  )
}

/** Debian's named as a caching, validating resolver of these zones. */
export function startCachingNamed(zones: Upstreams, anchors: readonly string[] = []): Promise<Program> {
  const forwards = Object.entries(zones).map(
    ([origin, servers]) =>
      `zone "${origin}" { type forward; forward only; forwarders { ${servers
        .map((server) => `${server.host} port ${server.port};`)
        .join(' ')} }; };`,
  )
  const trust = anchors.map((anchor) => {
    const [owner, , , tag, algorithm, digestType, digest] = anchor.split(/\s+/)
    return `  "${owner}" static-ds ${tag} ${algorithm} ${digestType} "${digest}";`
  })
  return startNamed(
    {},
    {
      recurse:
        // Fetching anew before a record's time is up would show less than what it may be held for.
        'recursion yes; allow-recursion { any; }; minimal-responses no; prefetch 0; ' +
        `dnssec-validation ${anchors.length > 0 ? 'yes' : 'no'};`,
      more: `${forwards.join('\n')}\n${trust.length > 0 ? `trust-anchors {\n${trust.join('\n')}\n};` : ''}`,
    },
  )
}
