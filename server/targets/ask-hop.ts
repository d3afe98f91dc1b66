import type { Readable } from 'node:stream'
import { Client } from 'undici'
import { MIMEType } from 'whatwg-mimetype'
import {
  BAD_PORTS,
  frameAncestorsOf,
  retryAfterMs,
  type FaultKind,
  type Hop,
  type HopFields,
  type HopVia,
} from '../../core/targets'
import { Busy, type Asker } from './asker'
import { readBody, type ReadBody } from './body'
import { CertificateRefused, connectTo, type Connection } from './connect'

/** One answered request, with its body where it was asked for. */
export interface AskedHop {
  hop: Hop
  body: ReadBody | null
  /** The encoding its Content-Type names; empty where it names none. */
  charset: string
  setCookies: string[]
  /** What the host asks to wait, in milliseconds. */
  waitMs: number | undefined
}

export interface HopRequest {
  url: string
  method: 'GET' | 'HEAD' | 'POST'
  /** What is sent with it, and fields of its own. */
  sends?: { body: string; fields: Record<string, string> }
  via: HopVia
  cookies: string
  /** Further fields, as a crawler sends them. */
  accept?: string
  /** Accept-Language; English and then any where it is not said. */
  language?: string
  /** Most octets of the body; 512 KiB unless a file is wanted whole. */
  mostOctets?: number
}

/** Addresses of one host that are tried before it counts as silent. */
const MAX_ADDRESSES = 4
const MAX_FIELD = 500
const MAX_HEADER_OCTETS = 64 * 1024
const NO_ROUTE = new Set(['ENETUNREACH', 'EADDRNOTAVAIL', 'EAFNOSUPPORT', 'EHOSTUNREACH'])

/**
 * Asks for one URL as a stranger’s browser would: resolves, connects to a vetted address, asks, and reads what comes;
 * redirects are not followed. Whatever the other side does becomes a part of the hop; rejects only where the host
 * asked to wait.
 */
export async function askHop(asker: Asker, request: HopRequest): Promise<AskedHop> {
  const url = new URL(request.url)
  const began = performance.now()
  const hop: Hop = {
    url: request.url,
    method: request.method,
    via: request.via,
    address: null,
    status: null,
    location: null,
    milliseconds: 0,
    certificate: null,
    fields: null,
    fault: null,
  }
  const asked: AskedHop = { hop, body: null, charset: '', setCookies: [], waitMs: undefined }
  const fail = (kind: FaultKind, text: string): AskedHop => {
    hop.fault = { kind, text: text.slice(0, 300) }
    hop.milliseconds = Math.round(performance.now() - began)
    return asked
  }
  const port = url.port === '' ? (url.protocol === 'https:' ? 443 : 80) : Number(url.port)
  if (url.port !== '' && BAD_PORTS.has(port)) return fail('bad-port', `browsers do not go to port ${port}`)
  const own = await asker.own?.(request.url)
  if (own) {
    hop.status = own.status
    hop.location = own.location
    hop.own = true
    return asked
  }
  const looked = await asker.lookUp(url.hostname)
  if (!looked.ok) return fail(looked.reason, looked.text)
  const open = looked.addresses.filter((address) => asker.mayAsk(address, port))
  if (open.length === 0) {
    hop.address = looked.addresses[0]!
    return fail('not-public', `${looked.addresses[0]} is not a public address; it was not asked`)
  }
  const turn = await asker.turns.take(url.hostname)
  const signal = AbortSignal.timeout(asker.timeoutMs)
  const started = performance.now()
  try {
    const connection = await connectToAny(asker, open.slice(0, MAX_ADDRESSES), port, url, hop)
    hop.certificate = connection.certificate
    await exchange(asker, connection, url, request, signal, asked)
  } catch (error) {
    if (error instanceof CertificateRefused) {
      hop.certificate = error.certificate
      fail('certificate', 'browsers refuse its certificate')
    } else fail(...faultOf(error as NodeJS.ErrnoException, signal))
  } finally {
    turn.done(asked.waitMs)
  }
  hop.milliseconds = Math.round(performance.now() - started)
  return asked
}

async function connectToAny(
  asker: Asker,
  addresses: readonly string[],
  port: number,
  url: URL,
  hop: Hop,
): Promise<Connection> {
  let last: unknown
  for (const address of addresses) {
    hop.address = address
    try {
      return await connectTo(asker.way(address, port), url.hostname, {
        tls: url.protocol === 'https:',
        trust: asker.trust,
        timeoutMs: Math.ceil(asker.timeoutMs / (addresses.length > 1 ? 2 : 1)),
      })
    } catch (error) {
      if (error instanceof CertificateRefused) throw error
      // This machine may lack a family; what an address of the other says counts for more.
      if (last === undefined || !NO_ROUTE.has((error as NodeJS.ErrnoException).code ?? '')) last = error
    }
  }
  throw last
}

async function exchange(
  asker: Asker,
  { socket }: Connection,
  url: URL,
  request: HopRequest,
  signal: AbortSignal,
  asked: AskedHop,
): Promise<void> {
  const { hop } = asked
  let given = false
  const client = new Client(url.origin, {
    // One connection for one request; a second is never made.
    connect: (_options, callback) => {
      const used = given
      given = true
      // The client is ready for the answer only after this call.
      setImmediate(() =>
        used ? callback(new Error('the connection is used up'), null) : callback(null, socket as never),
      )
    },
    pipelining: 1,
    headersTimeout: asker.timeoutMs,
    bodyTimeout: asker.timeoutMs,
    maxHeaderSize: MAX_HEADER_OCTETS,
    keepAliveTimeout: 1,
  })
  let answered = false
  try {
    const response = await client.request({
      path: url.pathname + url.search,
      method: request.method,
      headers: {
        host: url.host,
        'user-agent': asker.userAgent,
        accept: request.accept ?? 'text/html,application/xhtml+xml;q=0.9,*/*;q=0.8',
        'accept-language': request.language || 'en,*;q=0.5',
        'accept-encoding': 'gzip, deflate, br',
        ...(request.cookies && { cookie: request.cookies }),
        ...request.sends?.fields,
      },
      body: request.sends?.body,
      signal,
    })
    answered = true
    const field = (name: string): string | null => {
      const value = response.headers[name]
      return value === undefined ? null : (Array.isArray(value) ? value.join(', ') : value).slice(0, MAX_FIELD)
    }
    const location = response.headers.location
    hop.status = response.statusCode
    hop.location = location === undefined ? null : (Array.isArray(location) ? location[0]! : location).slice(0, 8000)
    hop.fields = fieldsOf(field)
    asked.charset = MIMEType.parse(field('content-type') ?? '')?.parameters.get('charset') ?? ''
    const cookies = response.headers['set-cookie']
    asked.setCookies = cookies === undefined ? [] : [cookies].flat().slice(0, 50)
    if (response.statusCode === 429 || response.statusCode === 503)
      asked.waitMs = retryAfterMs(hop.fields.retryAfter, Date.now())
    const redirects = response.statusCode >= 300 && response.statusCode < 400 && hop.location !== null
    if (request.method === 'HEAD' || redirects) {
      response.body.on('error', () => undefined)
      response.body.destroy()
      return
    }
    asked.body = await readBody(
      response.body as unknown as Readable,
      field('content-encoding') ?? '',
      signal,
      request.mostOctets,
    )
    if (asked.body.broken) hop.fault = { kind: 'broke-off', text: 'the answer breaks off before its end' }
  } catch (error) {
    if (!answered || !signal.aborted) throw error
  } finally {
    // Nothing of this connection is used again, whatever state it is in.
    socket.on('error', () => undefined)
    client.destroy().catch(() => undefined)
    socket.destroy()
  }
}

const fieldsOf = (field: (name: string) => string | null): HopFields => ({
  type: MIMEType.parse(field('content-type') ?? '')?.essence ?? null,
  challenge: field('www-authenticate') ?? field('proxy-authenticate'),
  retryAfter: field('retry-after'),
  frameOptions: field('x-frame-options'),
  frameAncestors: frameAncestorsOf(field('content-security-policy') ?? undefined),
  setsCookie: field('set-cookie') !== null,
})

function faultOf(error: NodeJS.ErrnoException, signal: AbortSignal): [FaultKind, string] {
  if (error instanceof Busy) throw error
  const code = error.code ?? ''
  if (signal.aborted || error.name === 'TimeoutError' || /TIMEOUT|ETIMEDOUT/.test(code))
    return ['timeout', 'it did not answer in time']
  if (code === 'ECONNREFUSED') return ['refused-connection', 'it refuses connections']
  if (NO_ROUTE.has(code)) return ['timeout', `there is no way to it (${code})`]
  if (/^ERR_SSL|^EPROTO|^ERR_TLS/.test(code)) return ['no-tls', 'it and today’s browsers agree on no encryption']
  if (/HPE_|HEADERS_OVERFLOW|INVALID_ARG|CONTENT_LENGTH/.test(code) || error.name === 'HTTPParserError')
    return ['malformed', `what it sends is no HTTP (${(error.message || code).slice(0, 120)})`]
  return ['reset', 'it closes the connection without an answer']
}
