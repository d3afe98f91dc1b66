import { createServer, type Socket } from 'node:net'
import { createServer as createTls } from 'node:tls'
import { gzipSync, deflateSync, brotliCompressSync } from 'node:zlib'
import pLimit from 'p-limit'
import { judge, VERDICT_NAMES } from '../../../core/targets'
import { NO_POLITENESS, type Asker } from '../../../server/targets/asker'
import { checkDestination } from '../../../server/targets/check'
import { Authority } from '../../../standins/sites/certificates'
import { chance } from './moved-site'

const PAGE =
  '<!doctype html><html lang="en"><head><title>A page</title><meta http-equiv="refresh" content="0; url=/next">' +
  '<meta property="og:title" content="x"><script>location.href="/next"</script></head><body><form action="/in">' +
  '<input type="password"></form><a href="/a">a</a><h1>Hello</h1><p>The ferry leaves at ten from the ' +
  'quay.</p></body></html>'

const head = (status: string, fields: string, body: string | Buffer) =>
  Buffer.concat([Buffer.from(`HTTP/1.1 ${status}\r\n${fields}\r\n\r\n`, 'latin1'), Buffer.from(body as string)])

/** Sound answers of each sort, to be bent. */
const SEEDS: readonly Buffer[] = [
  head('200 OK', `Content-Type: text/html; charset=utf-8\r\nContent-Length: ${PAGE.length}`, PAGE),
  head(
    '301 Moved Permanently',
    'Location: /next?x=1#frag\r\nContent-Length: 0\r\nSet-Cookie: a=b; Domain=.example; Path=/',
    '',
  ),
  head('302 Found', 'Location: http://user:pw@[::1]:99/\r\nContent-Length: 0', ''),
  head('401 Unauthorized', 'WWW-Authenticate: Basic realm="x\\"y", Digest nonce=1\r\nContent-Length: 2', 'no'),
  head('429 Too Many', 'Retry-After: Fri, 31 Dec 1999 23:59:59 GMT\r\nContent-Length: 1', 'x'),
  head('200 OK', 'Content-Type: text/html\r\nContent-Encoding: gzip', gzipSync(PAGE)),
  head('200 OK', 'Content-Type: text/html\r\nContent-Encoding: deflate', deflateSync(PAGE)),
  head('200 OK', 'Content-Type: text/html\r\nContent-Encoding: br, gzip', gzipSync(brotliCompressSync(PAGE))),
  head(
    '200 OK',
    'Transfer-Encoding: chunked\r\nContent-Type: text/html',
    `5\r\nhello\r\n${PAGE.length.toString(16)}\r\n${PAGE}\r\n0\r\nX: y\r\n\r\n`,
  ),
  head(
    '503 Busy',
    "Retry-After: 120\r\nContent-Security-Policy: frame-ancestors 'self'; x\r\nX-Frame-Options: " +
      'DENY\r\nContent-Length: 0',
    '',
  ),
]

/** One answer bent at a few places: octets flipped, cut, doubled, put in. */
function bend(seed: Buffer, random: () => number): Buffer {
  let octets = Buffer.from(seed)
  const times = 1 + Math.floor(random() * 3)
  for (let time = 0; time < times && octets.length > 0; time++) {
    // The head is small and breaks at once: more often the body is bent.
    const body = Math.max(0, octets.indexOf('\r\n\r\n'))
    const at =
      random() < 0.3 ? Math.floor(random() * octets.length) : body + Math.floor(random() * (octets.length - body))
    const kind = Math.floor(random() * 6)
    if (kind === 0) octets[at] = Math.floor(random() * 256)
    else if (kind === 1) octets = octets.subarray(0, at)
    else if (kind === 2) octets = Buffer.concat([octets.subarray(0, at), octets.subarray(Math.max(0, at - 20))])
    else if (kind === 3) {
      const more = Buffer.alloc(Math.floor(random() * 40), Math.floor(random() * 256))
      octets = Buffer.concat([octets.subarray(0, at), more, octets.subarray(at)])
    } else if (kind === 4)
      octets = Buffer.concat([octets.subarray(0, at), octets.subarray(at + Math.floor(random() * 30))])
    else octets = Buffer.from(octets.toString('latin1').replace(/\d+/, String(Math.floor(random() * 1e9))), 'latin1')
  }
  return octets
}

/** What a fuzz came to: checks made, those without a verdict, and those that took much longer than allowed. */
export interface FuzzResult {
  answers: number
  unjudged: number
  late: number
  verdicts: Record<string, number>
}

const TIMEOUT_MS = 400
const AT_ONCE = 24

/** Checks `count` bent answers, over HTTP and TLS, with certificates of every bad kind among them. */
export async function fuzzAnswers(
  count: number,
  seed: number,
  told: (done: number) => void = () => undefined,
): Promise<FuzzResult> {
  const random = chance(seed)
  const sockets = new Set<Socket>()
  const answer = (socket: Socket) => {
    sockets.add(socket)
    socket.on('close', () => sockets.delete(socket))
    socket.on('error', () => undefined)
    socket.once('data', () => {
      const octets = bend(SEEDS[Math.floor(random() * SEEDS.length)]!, random)
      const cut = Math.floor(random() * octets.length)
      // Some of it at once, some in two pieces, some left hanging.
      const way = random()
      if (way < 0.3) {
        socket.write(octets.subarray(0, cut))
        setImmediate(() => socket.end(octets.subarray(cut)))
      } else if (way < 0.35) socket.write(octets)
      else if (way < 0.4) socket.destroy()
      else socket.end(octets)
    })
  }
  const plain = createServer(answer)
  const authority = await Authority.make('Fuzz authority')
  const kinds = ['sound', 'expired', 'wrong-host', 'self-signed', 'not-yet'] as const
  const served = await Promise.all(kinds.map((kind) => authority.issue(['fuzz.example'], kind)))
  const tls = createTls(served[0]!, answer)
  tls.on('tlsClientError', () => undefined)
  const listen = (server: typeof plain) =>
    new Promise<number>((resolve) =>
      server.listen(0, '127.0.0.1', () => resolve((server.address() as { port: number }).port)),
    )
  const [http, https] = [await listen(plain), await listen(tls)]
  const asker: Asker = {
    lookUp: () => Promise.resolve({ ok: true, addresses: ['192.0.2.1'] }),
    mayAsk: () => true,
    way: (_address, port) => ({ host: '127.0.0.1', port: port === 443 ? https : http }),
    turns: NO_POLITENESS,
    userAgent: 'Fides',
    timeoutMs: TIMEOUT_MS,
  }
  const result: FuzzResult = { answers: 0, unjudged: 0, late: 0, verdicts: {} }
  const limit = pLimit(AT_ONCE)
  await Promise.all(
    Array.from({ length: count }, (_, index) =>
      limit(async () => {
        if (index % 500 === 0) tls.setSecureContext(served[(index / 500) % kinds.length]!)
        const began = performance.now()
        const scheme = index % 10 === 0 ? 'https' : 'http'
        const verdict = await checkDestination(asker, `${scheme}://fuzz.example/deep/page?a=${index}`).then(
          ({ evidence }) => judge(JSON.parse(JSON.stringify(evidence))).verdict,
          () => undefined,
        )
        result.answers++
        if (!verdict || !VERDICT_NAMES.includes(verdict)) result.unjudged++
        else result.verdicts[verdict] = (result.verdicts[verdict] ?? 0) + 1
        // Twenty redirects and a neighbour may each take their time; a check that hangs takes longer than all of it.
        if (performance.now() - began > TIMEOUT_MS * 60) result.late++
        told(result.answers)
      }),
    ),
  )
  for (const socket of sockets) socket.destroy()
  plain.close()
  tls.close()
  return result
}
