import { execFile, execFileSync, spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { freePort } from '../../../scripts/ports'

const PATH = `${process.env.PATH}:/usr/sbin:/usr/local/sbin`
const environment = { ...process.env, PATH }

export interface Checked {
  ok: boolean
  /** The canonical form, a record a line, sorted. */
  lines: string[]
  said: string
}

/** Names mean the same in either case; strings do not. */
const outsideQuotes = (line: string) =>
  line.replace(/"(?:\\.|[^"])*"|[^"]+/g, (part) => (part.startsWith('"') ? part : part.toLowerCase()))

/** Has Debian's named-checkzone read a zone and print it in canonical form. */
export function namedCheckzone(origin: string, text: string): Checked {
  const folder = mkdtempSync(join(tmpdir(), 'fides-zone-'))
  try {
    const file = join(folder, 'zone')
    writeFileSync(file, text, 'latin1')
    // -i local: names outside the zone are not looked up.
    const ran = spawnSync('named-checkzone', ['-i', 'local', '-D', '-o', '-', origin, file], {
      encoding: 'latin1',
      env: environment,
    })
    const lines = ran.stdout
      .split('\n')
      .filter((line) => /\sIN\s/.test(line))
      .map((line) => outsideQuotes(line.replace(/\s+/g, ' ').trim()))
    return { ok: ran.status === 0, lines: lines.sort(), said: ran.stderr }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

export interface Named {
  port: number
  /** The key that may update and transfer. */
  secret: Uint8Array
  keyName: string
  stop(): Promise<void>
}

/**
 * Starts Debian's named on a free loopback port with these zones; one key may update and transfer them. Those of
 * `fixed` it may not update, and those of `second` are taken from that primary, which hands its zones to `anybody`.
 */
export async function startNamed(
  zones: Record<string, string>,
  {
    fixed = {},
    second = {},
    anybody = false,
  }: { fixed?: Record<string, string>; second?: Record<string, Named>; anybody?: boolean } = {},
): Promise<Named> {
  const folder = mkdtempSync(join(tmpdir(), 'fides-named-'))
  const port = await freePort()
  const keyText = execFileSync('tsig-keygen', ['-a', 'hmac-sha256', 'desk-key'], { encoding: 'utf8', env: environment })
  writeFileSync(join(folder, 'desk.key'), keyText)
  const policy = 'update-policy { grant desk-key zonesub ANY; };'
  const blocks = [
    ...Object.entries({ ...zones, ...fixed }).map(([origin, text], index) => {
      writeFileSync(join(folder, `zone${index}`), text, 'latin1')
      return `zone "${origin}" { type primary; file "zone${index}"; ${origin in zones ? policy : ''} };`
    }),
    ...Object.entries(second).map(
      ([origin, { port: from }]) =>
        `zone "${origin}" { type secondary; file "second-${origin}"; ` + `primaries port ${from} { 127.0.0.1; }; };`,
    ),
  ]
  writeFileSync(
    join(folder, 'named.conf'),
    `include "${folder}/desk.key";
controls { };
options { directory "${folder}"; pid-file "${folder}/named.pid"; session-keyfile "${folder}/session.key";
  managed-keys-directory "${folder}";
  listen-on port ${port} { 127.0.0.1; }; listen-on-v6 { none; }; recursion no; dnssec-validation no;
  allow-transfer { ${anybody ? 'any' : 'key desk-key'}; };
  notify no; minimal-responses no; check-names primary ignore; };
${blocks.join('\n')}
`,
  )
  const child = spawn('named', ['-g', '-n', '1', '-c', join(folder, 'named.conf')], {
    env: environment,
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  await new Promise<void>((resolve, reject) => {
    let said = ''
    child.stderr.setEncoding('utf8').on('data', (piece: string) => {
      said += piece
      if (/ running$/m.test(said)) resolve()
    })
    child.once('exit', () => reject(new Error(`named ended:\n${said}`)))
  })
  return {
    port,
    keyName: 'desk-key.',
    secret: Uint8Array.from(
      Buffer.from(/secret "([^"]+)"/.exec(readFileSync(join(folder, 'desk.key'), 'utf8'))![1]!, 'base64'),
    ),
    async stop() {
      child.kill('SIGTERM')
      await ended
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

export interface Dug {
  rcode: string
  flags: string[]
  answer: string[]
  authority: string[]
}

/** Asks a server with Debian's dig; without waiting in the way of servers in this very process. */
export async function dig(port: number, name: string, type: string, ...more: string[]): Promise<Dug> {
  return (await digMany(port, [[name, type]], ...more))[0]!
}

/** The same for several questions in one go, answers in their order. */
export async function digMany(
  port: number,
  questions: readonly (readonly [name: string, type: string])[],
  ...more: string[]
): Promise<Dug[]> {
  const usual = ['+norecurse', '+nocookie', '+tries=2', '+time=3', ...more]
  const { stdout } = await promisify(execFile)(
    'dig',
    ['@127.0.0.1', '-p', String(port), ...usual, ...questions.flatMap(([name, type]) => [name, type])],
    { encoding: 'utf8', env: environment, maxBuffer: 10_000_000 },
  )
  // Each answer begins with its header.
  return stdout
    .split(/^(?=;; ->>HEADER)/m)
    .slice(1)
    .map(readDug)
}

function readDug(out: string): Dug {
  const section = (title: string) =>
    (new RegExp(`;; ${title} SECTION:\\n([\\s\\S]*?)\\n\\n`).exec(out)?.[1] ?? '')
      .split('\n')
      .filter((line) => line && !line.startsWith(';'))
      .map((line) =>
        line
          .replace(/\s+/g, ' ')
          .trim()
          .replace(/([0-9A-F]{8,}) ([0-9A-F]{8,})$/, '$1$2'),
      )
      .sort()
  return {
    rcode: /status: (\w+)/.exec(out)?.[1] ?? 'NONE',
    flags: (/flags: ([a-z ]*);/.exec(out)?.[1] ?? '').split(' '),
    answer: section('ANSWER'),
    authority: section('AUTHORITY'),
  }
}
