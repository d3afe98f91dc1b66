import { randomInt } from 'node:crypto'
import { createSocket } from 'node:dgram'
import { connect } from 'node:net'
import { DataFault, type DnsName } from '../../core/dns'
import {
  decodeMessage,
  EDNS_SIZE,
  encodeMessage,
  frame,
  FrameReader,
  message,
  question,
  type DnsMessage,
} from '../../core/dns/wire'

/** Where a name server is reached. */
export interface ServerAddress {
  host: string
  port: number
}

export interface AskOptions {
  /** Ask the server to follow aliases and delegations itself; for resolvers. */
  recursive?: boolean
  /** Ask for signatures too (DO, RFC 3225). */
  signed?: boolean
  /** Ask a validating resolver to hand out what it could not prove as well (CD, RFC 4035 §3.2.2). */
  unchecked?: boolean
  timeoutMs?: number
  /** How often UDP is tried again after silence. */
  retries?: number
  /** Held back until this says go; the watch paces its questions with it. */
  pace?: () => Promise<void>
}

export type Asked =
  | { ok: true; message: DnsMessage; milliseconds: number }
  | { ok: false; reason: 'silent' | 'unreachable' | 'no-route' | 'malformed'; sentence: string }

const TIMEOUT_MS = 2000
const RETRIES = 1
/** What the system says where it is this machine that lacks the address family or a way at all. */
const NO_ROUTE = new Set(['ENETUNREACH', 'EADDRNOTAVAIL', 'EAFNOSUPPORT'])
const random16 = () => randomInt(65_536)

/**
 * Asks one server one question: UDP with EDNS from a fresh port and with a random id, again after silence, without
 * EDNS where that is refused, over TCP where the answer was cut (RFC 1035 §4.2, RFC 6891, RFC 7766). Never rejects.
 */
export async function ask(
  server: ServerAddress,
  name: DnsName,
  type: string,
  options: AskOptions = {},
): Promise<Asked> {
  const began = performance.now()
  const make = (edns: boolean) =>
    message(random16(), {
      rd: options.recursive ?? false,
      cd: options.unchecked ?? false,
      wantsSignatures: options.signed ?? false,
      questions: [question(name, type)],
      ednsSize: edns ? EDNS_SIZE : undefined,
    })
  try {
    let edns = true
    let silence: unknown
    for (let attempt = 0; attempt <= (options.retries ?? RETRIES); attempt++) {
      try {
        await options.pace?.()
        let answer = await overUdp(server, make(edns), options.timeoutMs ?? TIMEOUT_MS)
        if (edns && answer.rcode === 'FORMERR') {
          edns = false
          await options.pace?.()
          answer = await overUdp(server, make(false), options.timeoutMs ?? TIMEOUT_MS)
        }
        if (answer.tc) {
          await options.pace?.()
          answer = await overTcp(server, make(edns), options.timeoutMs ?? TIMEOUT_MS)
        }
        return { ok: true, message: answer, milliseconds: performance.now() - began }
      } catch (error) {
        if (!(error instanceof Silence)) throw error
        silence = error
      }
    }
    throw silence
  } catch (error) {
    const at = `${server.host} port ${server.port}`
    if (error instanceof Silence) return { ok: false, reason: 'silent', sentence: `${at} did not answer.` }
    if (error instanceof DataFault)
      return { ok: false, reason: 'malformed', sentence: `${at} answered what cannot be read: ${error.message}.` }
    if (NO_ROUTE.has((error as NodeJS.ErrnoException).code ?? ''))
      return { ok: false, reason: 'no-route', sentence: `This machine has no way to ${at}.` }
    return { ok: false, reason: 'unreachable', sentence: `${at} cannot be reached: ${(error as Error).message}.` }
  }
}

class Silence extends Error {}

/** Whether a message answers ours: same id, same question (RFC 5452 §9.1). */
function answers(answer: DnsMessage, asked: DnsMessage): boolean {
  const [mine, theirs] = [asked.questions[0]!, answer.questions[0]]
  return (
    answer.response &&
    answer.id === asked.id &&
    (theirs === undefined ? answer.rcode !== 'NOERROR' : theirs.name === mine.name && theirs.type === mine.type)
  )
}

function overUdp(server: ServerAddress, asked: DnsMessage, timeoutMs: number): Promise<DnsMessage> {
  return new Promise((resolve, reject) => {
    const socket = createSocket(server.host.includes(':') ? 'udp6' : 'udp4')
    const end = (act: () => void) => {
      clearTimeout(timer)
      socket.close()
      act()
    }
    const timer = setTimeout(() => end(() => reject(new Silence())), timeoutMs)
    socket.once('error', (error) =>
      end(() => reject((error as NodeJS.ErrnoException).code === 'ECONNREFUSED' ? new Silence() : error)),
    )
    socket.on('message', (octets) => {
      try {
        const answer = decodeMessage(octets)
        // What answers another question is somebody else's, or a forgery: go on waiting.
        if (answers(answer, asked)) end(() => resolve(answer))
      } catch (error) {
        if (octets.length >= 2 && octets.readUInt16BE(0) === asked.id) end(() => reject(error as Error))
      }
    })
    // Connected, so that only this server's datagrams come in.
    socket.connect(server.port, server.host, () => socket.send(encodeMessage(asked)))
  })
}

async function overTcp(server: ServerAddress, asked: DnsMessage, timeoutMs: number): Promise<DnsMessage> {
  for await (const octets of exchange(server, encodeMessage(asked), timeoutMs, timeoutMs)) {
    const answer = decodeMessage(octets)
    if (answers(answer, asked)) return answer
  }
  throw new Silence()
}

/**
 * Sends one message over TCP and gives each that comes back, whole; ends when the caller does or the server closes.
 * Rejects where the server cannot be reached, `timeoutMs` pass without anything, or all takes longer than `wholeMs`:
 * an octet now and then keeps nobody.
 */
export async function* exchange(
  server: ServerAddress,
  sent: Uint8Array,
  timeoutMs: number,
  wholeMs: number,
): AsyncGenerator<Uint8Array> {
  const socket = connect({ host: server.host, port: server.port })
  socket.setTimeout(timeoutMs, () => socket.destroy(new Silence()))
  const overdue = setTimeout(() => socket.destroy(new Silence()), wholeMs)
  socket.write(frame(sent))
  const frames = new FrameReader()
  try {
    for await (const piece of socket) yield* frames.push(piece as Buffer)
  } catch (error) {
    throw (error as NodeJS.ErrnoException).code === 'ECONNREFUSED' ? new Silence() : error
  } finally {
    clearTimeout(overdue)
    socket.destroy()
  }
}
