import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Socket } from 'node:net'
import { readHost } from '../core/address'
import { forwardedScheme } from '../core/visits'
import { answer, headersOf, type Answer, type Table } from '../core/table'
import { REACH_PATH, readReachNonce } from '../environment/secrets'
import { readFields, type RequestFields } from './fields'
import { NOTE_FIELDS, sendWaiting, writeLean } from './lean'
import { NO_OFFERS, type Offers } from './likely'
import { ownPage, redirectNote } from './pages'
import { plainAddress } from '../environment/peer'

export interface GatewayParts {
  /** The table of this moment. */
  table(): Table
  /** What proves this gateway to a reach check: the answer to a once-used word asked under a host (semantics §4). */
  reachProof?(host: string, nonce: string): string
  /** What may have been meant where nothing was found; by and by where that takes a while. */
  offers?(table: Table, answer: Answer): Offers | Promise<Offers>
  /** Told of each request once its answer is on its way. */
  answered(request: IncomingMessage, fields: RequestFields, answer: Answer, now: number): void
  /** Told how long an answer took from the request read to the answer written. */
  measured?(outcome: Answer['outcome'], milliseconds: number): void
  /** Whether an address is one of our own proxies, whose word on the visitor's scheme is taken. */
  isTrusted?(address: string): boolean
  /** Whether connections end with the next answer. */
  draining?(): boolean
}

const PAGE_POLICY =
  "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
/** Where the field of our pages sends what was typed there. */
const FIND_PATH = '/.well-known/short-address/find?'

const KEEP_ALIVE_SECONDS = 15

/** More fields than any browser, proxy or tool sends. */
const MAX_FIELDS = 1000

/** 431 (RFC 6585 §5), and the connection closes. */
function refuseFields(response: ServerResponse): void {
  response.writeHead(431, ['Cache-Control', 'no-store', 'Content-Length', '0', 'Connection', 'close'])
  response.end()
}

/** The redirect server: plain HTTP, everything from memory. */
export function createGateway(parts: GatewayParts): Server {
  const { measured } = parts
  const isTrusted = parts.isTrusted ?? (() => false)

  /** Whether the visitor came over TLS; `undefined` where nobody we trust says. */
  function isSecure(request: IncomingMessage, fields: RequestFields): boolean | undefined {
    if (fields.xForwardedProto === undefined && fields.forwarded === undefined) return undefined
    if (!isTrusted(plainAddress(request.socket.remoteAddress))) return undefined
    const scheme = forwardedScheme(fields)
    return scheme === undefined ? undefined : scheme === 'https'
  }

  const draining = parts.draining ?? (() => false)

  function serve(request: IncomingMessage, response: ServerResponse): void {
    const began = performance.now()
    const now = Date.now()
    // The first word of HTTP/2's preface (RFC 9113 §3.4), spoken here: Node ends the connection right after us.
    if (request.method === 'PRI') sendWaiting()
    const table = parts.table()
    if (request.rawHeaders.length > MAX_FIELDS * 2) return refuseFields(response)
    const fields = readFields(request.rawHeaders)
    if (request.url!.startsWith(REACH_PATH) && proveReach(table, fields, request, response)) return
    const secure = isSecure(request, fields)
    const result = answer(
      table,
      {
        method: request.method!,
        host: fields.host,
        hostDoubled: fields.hostDoubled,
        http10: request.httpVersionMinor === 0,
        // ASCII: Node's parser refuses other octets in a request target (RFC 9112 §3.2).
        target: request.url!,
        visitor: fields,
        secure,
      },
      now,
    )
    if (result.outcome === 'reserved' && request.url!.startsWith(FIND_PATH)) return findAgain(request, response, fields)
    const offers =
      result.outcome === 'not-found' && result.status === 404 && parts.offers ? parts.offers(table, result) : NO_OFFERS
    if (draining()) response.shouldKeepAlive = false
    const finish = (offered: Offers) => {
      if (fields.largeBody || !writeLean(request, response, result, now, KEEP_ALIVE_SECONDS))
        write(table, request, fields, response, result, offered)
      measured?.(result.outcome, performance.now() - began)
    }
    if (offers instanceof Promise) offers.then(finish).catch(() => response.destroy())
    else finish(offers)
    parts.answered(request, fields, result, now)
  }

  /** Answers a reach check for a domain of ours, open or not; it is nobody's visit. */
  function proveReach(
    table: Table,
    fields: RequestFields,
    request: IncomingMessage,
    response: ServerResponse,
  ): boolean {
    const nonce = readReachNonce(request.url!)
    const reading = fields.host === undefined || fields.hostDoubled ? undefined : readHost(fields.host)
    if (
      nonce === undefined ||
      !reading?.ok ||
      !table.hosts.has(reading.host) ||
      !parts.reachProof ||
      request.method !== 'GET'
    )
      return false
    response.writeHead(200, [
      'Content-Type',
      'text/plain; charset=utf-8',
      'Cache-Control',
      'no-store',
      'X-Content-Type-Options',
      'nosniff',
      ...(fields.largeBody ? ['Connection', 'close'] : []),
    ])
    response.end(parts.reachProof(reading.host, nonce) + '\n')
    return true
  }

  const server = createServer(
    {
      maxHeaderSize: 32 * 1024,
      requireHostHeader: false,
      keepAliveTimeout: KEEP_ALIVE_SECONDS * 1000,
      requestTimeout: 30_000,
    },
    serve,
  )
  // Whoever closes their half after asking still reads: a page that takes a moment reaches them (RFC 9112 §9.6).
  ;(server as Server & { httpAllowHalfOpen: boolean }).httpAllowHalfOpen = true
  // Node would cut what is beyond its own bound in silence, a Host among it; 32 KiB bound them all the same.
  server.maxHeadersCount = 0
  server.on('connect', (request, socket: Socket) => {
    sendWaiting()
    request.method = 'CONNECT'
    socket.on('error', () => undefined)
    socket.end(
      'HTTP/1.1 405 Method Not Allowed\r\nAllow: GET, HEAD, OPTIONS\r\nContent-Length: 0\r\nConnection: close\r\n\r\n',
    )
  })
  server.on('clientError', (error: NodeJS.ErrnoException & { rawPacket?: Buffer }, socket) => {
    // Who asked rightly before the fault on the same connection is answered first.
    sendWaiting()
    if (!socket.writable || error.code === 'ECONNRESET') return void socket.destroy()
    const status =
      error.code === 'HPE_HEADER_OVERFLOW'
        ? lineUnended(error.rawPacket)
          ? '414 URI Too Long'
          : '431 Request Header Fields Too Large'
        : error.code === 'ERR_HTTP_REQUEST_TIMEOUT'
          ? '408 Request Timeout'
          : '400 Bad Request'
    socket.end(`HTTP/1.1 ${status}\r\nCache-Control: no-store\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`)
  })
  return server
}

const lineUnended = (packet: Buffer | undefined) =>
  packet !== undefined && (!packet.includes('\r\n') || packet.indexOf('\r\n') > 8192)

/**
 * What was typed into the field of our pages, as an address of this same host: 303 to its path (RFC 9110 §15.4.4). A
 * host typed along is left out, so that nobody is sent elsewhere.
 */
function findAgain(request: IncomingMessage, response: ServerResponse, fields: RequestFields): void {
  const typed = new URLSearchParams(request.url!.slice(FIND_PATH.length)).get('address') ?? ''
  const path = typed
    .slice(0, MAX_TYPED)
    .trim()
    .replace(/^(?:https?:)?\/{0,2}[^/\s]*\.[a-z]{2,}(?=\/)/i, '')
    .replace(/^[/\\]+/, '')
  response.writeHead(303, [
    'Location',
    '/' +
      encodeURI(path.toWellFormed())
        .replace(/%25(?=[0-9A-Fa-f]{2})/g, '%')
        .replace(/[?#]/g, encodeURIComponent),
    'Cache-Control',
    'no-store',
    'Content-Length',
    '0',
    ...(fields.largeBody ? ['Connection', 'close'] : []),
  ])
  response.end()
}
const MAX_TYPED = 300

function write(
  table: Table,
  request: IncomingMessage,
  fields: RequestFields,
  response: ServerResponse,
  result: Answer,
  offers: Offers,
): void {
  const headers = headersOf(result)
  let body = ''
  // A redirect's note is ASCII, as its Location is, so its length is its length in octets.
  let encoding: 'latin1' | 'utf8' = 'latin1'
  if (result.location !== null) {
    body = redirectNote(result.location)
    headers.push(...NOTE_FIELDS, 'Content-Length', String(body.length))
  } else if (result.status !== 204) {
    body = ownPage(result, table.domains.get(result.domainId)?.domain, fields.acceptLanguage, offers)
    encoding = 'utf8'
    if (result.outcome === 'reserved') headers.push('Content-Type', 'text/plain; charset=utf-8')
    else
      headers.push(
        'Content-Type',
        'text/html; charset=utf-8',
        'Content-Security-Policy',
        PAGE_POLICY,
        'X-Content-Type-Options',
        'nosniff',
        'X-Robots-Tag',
        'noindex',
        'Vary',
        'Accept-Language',
      )
    headers.push('Content-Length', String(Buffer.byteLength(body)))
  }
  // Answered before a large body was read: the connection cannot be used again without reading it all.
  if (fields.largeBody) headers.push('Connection', 'close')
  response.writeHead(result.status, headers)
  if (request.method === 'HEAD') response.end()
  else response.end(body, encoding)
}
