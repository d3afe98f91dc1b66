import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Socket } from 'node:net'
import { showHost } from '../core/address'
import { answer, headersOf, type Answer, type Table } from '../core/table'
import { ownPage, redirectNote } from './pages'

export interface GatewayParts {
  /** The table of this moment. */
  table(): Table
  /** Told of each request once its answer is on its way. */
  answered(request: IncomingMessage, answer: Answer, now: number): void
}

const PAGE_POLICY = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"

// The Date field of RFC 9110 §6.6.1, remade once a second.
let dateSecond = 0
let dateText = ''
function httpDate(now: number): string {
  const second = Math.floor(now / 1000)
  if (second !== dateSecond) {
    dateSecond = second
    dateText = new Date(now).toUTCString()
  }
  return dateText
}

/** A request with more than one Host field (RFC 9112 §3.2); Node keeps only the first in `headers`. */
function hostDoubled(request: IncomingMessage): boolean {
  const raw = request.rawHeaders
  let count = 0
  for (let index = 0; index < raw.length; index += 2) {
    const name = raw[index]!
    if (name.length === 4 && (name === 'Host' || name === 'host' || name.toLowerCase() === 'host')) count++
  }
  return count > 1
}

/** The redirect server: plain HTTP, everything from memory. */
export function createGateway(parts: GatewayParts): Server {
  function serve(request: IncomingMessage, response: ServerResponse): void {
    const now = Date.now()
    const given = answer(
      parts.table(),
      {
        method: request.method!,
        host: request.headers.host,
        hostDoubled: hostDoubled(request),
        http10: request.httpVersionMinor === 0,
        // ASCII: Node's parser refuses other octets in a request target (RFC 9112 §3.2).
        target: request.url!,
      },
      now,
    )
    write(parts.table(), request, response, given, now)
    parts.answered(request, given, now)
  }

  const server = createServer({ maxHeaderSize: 32 * 1024, requireHostHeader: false, keepAliveTimeout: 15_000, requestTimeout: 30_000 }, serve)
  server.on('connect', (request, socket: Socket) => {
    request.method = 'CONNECT'
    socket.on('error', () => undefined)
    socket.end('HTTP/1.1 405 Method Not Allowed\r\nAllow: GET, HEAD, OPTIONS\r\nContent-Length: 0\r\nConnection: close\r\n\r\n')
  })
  server.on('clientError', (error: NodeJS.ErrnoException & { rawPacket?: Buffer }, socket) => {
    if (!socket.writable || error.code === 'ECONNRESET') return void socket.destroy()
    const status =
      error.code === 'HPE_HEADER_OVERFLOW' ? (lineUnended(error.rawPacket) ? '414 URI Too Long' : '431 Request Header Fields Too Large')
      : error.code === 'ERR_HTTP_REQUEST_TIMEOUT' ? '408 Request Timeout'
      : '400 Bad Request'
    socket.end(`HTTP/1.1 ${status}\r\nCache-Control: no-store\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`)
  })
  return server
}

const lineUnended = (packet: Buffer | undefined) => packet !== undefined && (!packet.includes('\r\n') || packet.indexOf('\r\n') > 8192)

function write(table: Table, request: IncomingMessage, response: ServerResponse, given: Answer, now: number): void {
  const headers = headersOf(given)
  let body: string
  if (given.location !== null) {
    body = redirectNote(given.location)
    headers.push('Content-Type', 'text/html; charset=utf-8')
  } else {
    const host = table.domains.get(given.domainId)?.domain.host
    body = given.status === 204 ? '' : ownPage(given, host && showHost(host))
    if (given.outcome === 'reserved') headers.push('Content-Type', 'text/plain; charset=utf-8')
    else if (given.status !== 204) {
      headers.push('Content-Type', 'text/html; charset=utf-8', 'Content-Security-Policy', PAGE_POLICY, 'X-Content-Type-Options', 'nosniff')
    }
  }
  headers.push('Date', httpDate(now))
  if (given.status !== 204) headers.push('Content-Length', String(Buffer.byteLength(body)))
  // Answered before the body was read: the connection cannot be used again without reading it all.
  if (request.headers['transfer-encoding'] !== undefined || Number(request.headers['content-length'] ?? 0) > 65_536) headers.push('Connection', 'close')
  response.sendDate = false
  response.writeHead(given.status, headers)
  response.end(request.method === 'HEAD' ? undefined : body)
}
