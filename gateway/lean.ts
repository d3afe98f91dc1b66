import { STATUS_CODES, type IncomingMessage, type ServerResponse } from 'node:http'
import { headersOf, type Answer } from '../core/table'
import { redirectNote } from './pages'

/** What else stands in the head of every answer that carries text of ours (OWASP ASVS 5.0 chapter 3). */
export const NOTE_FIELDS = [
  'Content-Type',
  'text/html; charset=utf-8',
  'Content-Security-Policy',
  "default-src 'none'; frame-ancestors 'none'",
  'X-Content-Type-Options',
  'nosniff',
] as const
const NOTE_TEXT = asText(NOTE_FIELDS)

/** Where Node keeps a head that it has made and not sent; common middleware relies on it, too. */
type Inner = ServerResponse & { _header?: string | null }

/** Fields as they are sent. */
function asText(fields: readonly string[]): string {
  let text = ''
  for (let index = 0; index < fields.length; index += 2) text += `${fields[index]}: ${fields[index + 1]}\r\n`
  return text
}

let second = 0
let date = ''
/** The Date field's value (RFC 9110 §6.6.1), made once a second. */
function dateAt(now: number): string {
  const at = Math.floor(now / 1000)
  if (at !== second) {
    second = at
    date = new Date(now).toUTCString()
  }
  return date
}

/** What could end a field's line; a Location that held such would be an answer put together by somebody else. */
const NOT_VISIBLE = /[^\x21-\x7e]/

/**
 * Writes the common redirect leanly: status line, fields and note in one piece, put where Node keeps a head it has
 * made; framing, pipelining and the connection's end stay Node's. Gives `false`, with nothing done, for whatever is
 * not the common case: then the ordinary way is taken.
 */
export function writeLean(
  request: IncomingMessage,
  response: ServerResponse,
  answer: Answer,
  now: number,
  keepAliveSeconds: number,
): boolean {
  const inner = response as Inner
  const { location } = answer
  if (
    location === null ||
    request.method !== 'GET' ||
    request.httpVersionMinor !== 1 ||
    !response.shouldKeepAlive ||
    inner._header !== null ||
    NOT_VISIBLE.test(location)
  )
    return false
  const note = redirectNote(location)
  inner._header =
    `HTTP/1.1 ${answer.status} ${STATUS_CODES[answer.status]}\r\n` +
    asText(headersOf(answer)) +
    NOTE_TEXT +
    `Content-Length: ${note.length}\r\nDate: ${dateAt(now)}\r\n` +
    `Connection: keep-alive\r\nKeep-Alive: timeout=${keepAliveSeconds}\r\n\r\n` +
    note
  response.statusCode = answer.status
  if (waiting.length === 0) setImmediate(sendWaiting)
  waiting.push(response)
  return true
}

/**
 * Answers of one turn of the event loop, sent together at its end. Each write wakes whoever waits at the other end of
 * the connection; one who is awake already, since its neighbour's answer came just before, costs nothing more. A turn
 * takes less than a millisecond, and one with a single request ends at once.
 */
let waiting: ServerResponse[] = []

/** Sends what waits for the end of this turn: before anything else may be written, or a connection ends. */
export function sendWaiting(): void {
  const ready = waiting
  waiting = []
  for (const response of ready) response.end()
}
