// Mutated requests over raw sockets against a running gateway: nothing may be answered out of step, with a fault of
// ours, or not at all.
import { connect, type Socket } from 'node:net'
import { seeded } from '../server/database/seed/chance'

export interface FuzzTarget {
  port: number
  host: string
  /** Slugs that answer, with where each leads. */
  known: readonly (readonly [slug: string, location: string])[]
}

export interface FuzzFigures {
  requests: number
  answers: number
  statuses: Record<string, number>
  /** A known request that got another answer than its own, one after another's, or none on a connection that lives. */
  outOfStep: string[]
  /** Status of 500 and above, or an answer that is none. */
  faults: string[]
}

const BYTES = [
  '\0',
  '\r',
  '\n',
  ' ',
  '\t',
  '%',
  '%00',
  '%0d%0a',
  '/',
  '//',
  '/..',
  '?',
  '#',
  '\xff',
  '\x80',
  ':',
  ';',
  '"',
  '\\',
]
const FIELDS = [
  'Content-Length: 0',
  'Content-Length: 5',
  'Content-Length: -1',
  'Content-Length: 99999999999999999999',
  'Content-Length: 3\r\nContent-Length: 4',
  'Transfer-Encoding: chunked',
  'Transfer-Encoding: chunked, identity',
  'Transfer-Encoding : chunked',
  'Transfer-Encoding: xchunked\r\nContent-Length: 2',
  'Host: other.example',
  'Host:',
  'Connection: close',
  'Connection: upgrade\r\nUpgrade: h2c',
  'Expect: 100-continue',
  'Expect: nonsense',
  'Forwarded: for=_hidden;proto=https',
  'X-Forwarded-For: ' + '1.2.3.4, '.repeat(200) + '5.6.7.8',
  'X-Forwarded-Proto: gopher',
  'Accept-Language: ' + 'de;q=0.5,'.repeat(100),
  'Referer: http://' + 'a'.repeat(5000),
  'User-Agent: ' + '('.repeat(3000),
  ' folded: line',
  'X: ' + 'y'.repeat(9000),
  'Range: bytes=0-1',
  'If-None-Match: "x"',
]
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'OPTIONS', 'TRACE', 'PATCH', 'BREW', 'get', 'CONNECT', 'PRI']
const TARGETS = [
  '/',
  '*',
  '',
  'http://bench.example/x',
  'http://[::1/x',
  '/' + 'a'.repeat(9000),
  '/%zz',
  '/%c0%af',
  '/%e0%80%80',
  '/../../../etc/passwd',
  '/.well-known/short-address/find?address=' + '%41'.repeat(400),
  '/.well-known/fides/' + 'a'.repeat(40),
  '/?' + 'a=1&'.repeat(1000),
  '//evil.example/%2f..',
  '/stop/1\u0301',
]

/** So long nothing more comes; so long the first answer may take. */
const PATIENCE_MS = 300
const FIRST_MS = 6000
const QUIET_MS = 12

/** Asks `requests` mutated requests over `connections`, each between two that are known; the seed tells them all. */
export async function fuzz(
  target: FuzzTarget,
  options: { requests: number; connections: number; seed: number; progress?: (done: number) => void },
): Promise<FuzzFigures> {
  const random = seeded(options.seed)
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
  const figures: FuzzFigures = { requests: 0, answers: 0, statuses: {}, outOfStep: [], faults: [] }
  const locations = new Set(target.known.map(([, location]) => location))
  const note = (list: string[], what: string) => list.length < 20 && list.push(what)

  const plain = (slug: string) => `GET /${slug} HTTP/1.1\r\nHost: ${target.host}\r\n\r\n`

  function mutated(): string {
    const [slug] = pick(target.known)
    const version = pick(['1.1', '1.1', '1.1', '1.0', '2.0', '1.2', '0.9'])
    const asked = random() < 0.5 ? `/${slug}` : pick(TARGETS)
    let text = `${pick(METHODS)} ${asked} HTTP/${version}\r\nHost: ${target.host}\r\n`
    for (let index = Math.floor(random() * 4); index > 0; index--) text += pick(FIELDS) + '\r\n'
    text += '\r\n' + (random() < 0.2 ? '5\r\nhello\r\n0\r\n\r\n' : '')
    for (let index = Math.floor(random() * 4); index > 0; index--) {
      const at = Math.floor(random() * text.length)
      const kind = random()
      if (kind < 0.4) text = text.slice(0, at) + pick(BYTES) + text.slice(at)
      else if (kind < 0.7) text = text.slice(0, at) + text.slice(at + 1 + Math.floor(random() * 3))
      else if (kind < 0.85)
        text = text.slice(0, at) + String.fromCharCode(Math.floor(random() * 256)) + text.slice(at + 1)
      else text = text.slice(0, at)
    }
    return text
  }

  /** One exchange on a fresh or a kept connection; gives the connection where it lives on. */
  function exchange(kept: Socket | undefined): Promise<Socket | undefined> {
    const [first, firstLocation] = pick(target.known)
    const [last, lastLocation] = pick(target.known)
    const between = mutated()
    figures.requests++
    return new Promise((resolve) => {
      const socket = kept ?? connect({ port: target.port, host: '127.0.0.1', noDelay: true })
      let received = Buffer.alloc(0)
      // What waits for more of a request is given up by us: the gateway has its own, longer patience. The known one
      // that came first is waited for, however busy the machine is.
      let waited = 0
      const timer = setInterval(() => {
        waited += PATIENCE_MS
        if (waited >= FIRST_MS || readAnswers(received.toString('latin1')).length > 0) end(false)
      }, PATIENCE_MS)
      const end = (alive: boolean) => {
        clearInterval(timer)
        clearTimeout(quiet)
        socket.removeAllListeners('data').removeAllListeners('close').removeAllListeners('error')
        judge(alive)
        if (!alive) socket.on('error', () => undefined).destroy()
        resolve(alive ? socket : undefined)
      }
      function judge(alive: boolean): void {
        const answers = readAnswers(received.toString('latin1'))
        figures.answers += answers.length
        for (const { status, location, fault } of answers) {
          figures.statuses[status] = (figures.statuses[status] ?? 0) + 1
          if (fault || status >= 500) note(figures.faults, `${status} ${fault ?? ''} after ${JSON.stringify(between)}`)
          if (location !== undefined && status === 302 && !locations.has(location) && !/^https?:\/\//.test(location))
            note(figures.outOfStep, `a location of nobody: ${location}`)
        }
        if (answers[0]?.location !== firstLocation)
          note(
            figures.outOfStep,
            `first is ${answers[0]?.location} for ${firstLocation}, before ${JSON.stringify(between)}`,
          )
        if (alive && answers.at(-1)?.location !== lastLocation)
          note(figures.outOfStep, `last of ${JSON.stringify(between)}`)
      }
      // What came between may be answered like the last, where it happens to ask the same: a moment more tells.
      let quiet: NodeJS.Timeout | undefined
      socket.on('data', (piece) => {
        clearTimeout(quiet)
        received = Buffer.concat([received, piece])
        const answers = readAnswers(received.toString('latin1'))
        const seemsDone =
          answers.length >= 3 &&
          answers.at(-1)!.whole &&
          answers.at(-1)!.location === lastLocation &&
          !answers.some(({ closes }) => closes)
        if (seemsDone) quiet = setTimeout(() => end(true), QUIET_MS)
      })
      socket.on('close', () => end(false))
      socket.on('error', () => end(false))
      socket.write(Buffer.from(plain(first) + between + plain(last), 'latin1'))
    })
  }

  const work = async () => {
    let socket: Socket | undefined
    while (figures.requests < options.requests) {
      socket = await exchange(socket)
      if (figures.requests % 10_000 === 0) options.progress?.(figures.requests)
    }
    socket?.destroy()
  }
  await Promise.all(Array.from({ length: options.connections }, work))
  return figures
}

interface Answered {
  status: number
  location: string | undefined
  closes: boolean
  whole: boolean
  fault?: string
}

/** The answers in what was received, read strictly (RFC 9112 §6); interim ones are passed over. */
function readAnswers(text: string): Answered[] {
  const answers: Answered[] = []
  let at = 0
  while (at < text.length) {
    const head = /^HTTP\/1\.1 (\d{3}) [^\r\n]*\r\n((?:[!#$%&'*+.^_`|~\w-]+:[^\r\n]*\r\n)*)\r\n/.exec(text.slice(at))
    if (!head) {
      if (text.slice(at).includes('\r\n\r\n'))
        answers.push({
          status: 0,
          location: undefined,
          closes: true,
          whole: false,
          fault: JSON.stringify(text.slice(at, at + 80)),
        })
      return answers
    }
    const field = (name: string) => new RegExp(`^${name}: *([^\\r\\n]*)`, 'im').exec(head[2]!)?.[1]
    const status = Number(head[1])
    at += head[0].length
    if (status < 200) continue
    // HEAD has none; where the next answer begins at once, there was no body.
    const rest = text.slice(at)
    const octets = rest.startsWith('HTTP/1.1 ')
      ? 0
      : bodyLength(rest, field('transfer-encoding'), field('content-length'))
    const closes = /close/i.test(field('connection') ?? '')
    answers.push({ status, location: field('location'), closes, whole: octets !== undefined })
    if (octets === undefined) return answers
    at += octets
  }
  return answers
}

/** The octets of a body by its framing (RFC 9112 §6.3, §7.1); `undefined` where it is not whole yet. */
function bodyLength(text: string, coding: string | undefined, length: string | undefined): number | undefined {
  if (coding !== 'chunked') return text.length >= Number(length ?? 0) ? Number(length ?? 0) : undefined
  let at = 0
  for (;;) {
    const size = /^([0-9a-f]+)\r\n/i.exec(text.slice(at))
    if (!size) return undefined
    const octets = parseInt(size[1]!, 16)
    at += size[0].length + octets + 2
    if (at > text.length) return undefined
    if (octets === 0) return at
  }
}
