import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { createServer, type Server, type Socket } from 'node:net'
import { decodeMessage, encodeMessage, frame, FrameReader, message, type DnsMessage } from '../../core/dns/wire'

/** What a stand-in makes of one message: the messages to send back, in order; none for silence. */
export type Handler = (octets: Uint8Array, over: 'udp' | 'tcp') => Promise<Uint8Array[]>

/** A stand-in speaking DNS over UDP and TCP on one loopback port. */
export interface DnsServer {
  port: number
  /** Questions taken so far. */
  asked: number
  stop(): Promise<void>
}

export async function serveDns(port: number, handle: Handler): Promise<DnsServer> {
  const told: DnsServer = { port, asked: 0, stop }
  const guarded: Handler = async (octets, over) => {
    told.asked++
    return handle(octets, over).catch(() => [])
  }
  const tcp = await listenTcp(port, guarded)
  told.port = (tcp.server.address() as { port: number }).port
  const udp = await listenUdp(told.port, guarded)
  return told

  async function stop() {
    await new Promise<void>((resolve) => udp.close(() => resolve()))
    for (const socket of tcp.sockets) socket.destroy()
    await new Promise<void>((resolve) => tcp.server.close(() => resolve()))
  }
}

function listenUdp(port: number, handle: Handler): Promise<UdpSocket> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4')
    socket.once('error', reject)
    socket.on('message', (octets, from) => {
      void handle(octets, 'udp').then(
        ([answer]) => answer && socket.send(cut(octets, answer), from.port, from.address, () => undefined),
      )
    })
    socket.bind(port, '127.0.0.1', () => resolve(socket))
  })
}

/** An answer too large for the asker's UDP is emptied and marked as cut (RFC 2181 §9, RFC 6891 §6.2.3). */
function cut(asked: Uint8Array, answer: Uint8Array): Uint8Array {
  if (answer.length <= 512) return answer
  const question: DnsMessage = decodeMessage(asked)
  if (answer.length <= Math.max(512, question.ednsSize ?? 512)) return answer
  const whole = decodeMessage(answer)
  return encodeMessage(message(whole.id, { ...whole, tc: true, answer: [], authority: [], additional: [] }))
}

function listenTcp(port: number, handle: Handler): Promise<{ server: Server; sockets: Set<Socket> }> {
  const sockets = new Set<Socket>()
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => {
      sockets.add(socket)
      socket.on('close', () => sockets.delete(socket))
      socket.on('error', () => undefined)
      const frames = new FrameReader()
      let before = Promise.resolve()
      socket.on('data', (piece: Buffer) => {
        for (const octets of frames.push(piece)) {
          before = before.then(async () => {
            for (const answer of await handle(octets, 'tcp')) socket.write(frame(answer))
          })
        }
      })
    })
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve({ server, sockets }))
  })
}
