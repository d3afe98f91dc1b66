import { createServer, type Server, type Socket } from 'node:net'
import { afterEach, describe, expect, it } from 'vitest'
import { MAX_FAULTS, readZone, type DnsName } from '../../../core/dns'
import { decodeMessage, encodeMessage, message } from '../../../core/dns/wire'
import { transferZone } from '../../../server/names/transfer'

const origin = 'big.example.' as DnsName
let server: Server | undefined
const sockets = new Set<Socket>()
afterEach(() => {
  for (const socket of sockets) socket.destroy()
  server?.close()
})

/** A name server that answers each transfer with what `send` writes. */
async function nameServer(send: (id: number, socket: Socket) => void): Promise<{ host: string; port: number }> {
  server = createServer((socket) => {
    sockets.add(socket)
    socket.on('error', () => undefined)
    socket.once('data', (octets) => send(decodeMessage(octets.subarray(2)).id, socket))
  })
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve))
  return { host: '127.0.0.1', port: (server.address() as { port: number }).port }
}

const framed = (octets: Uint8Array) => Buffer.concat([Buffer.from([octets.length >> 8, octets.length & 0xff]), octets])

/** The begin of a transfer: its SOA, and then records without end. */
function endless(id: number, socket: Socket): void {
  const soa = { name: origin, type: 'SOA', class: 1, ttl: 60, data: 'ns1.big.example. h.big.example. 1 2 3 4 5' }
  socket.write(framed(encodeMessage({ ...message(id, {}), response: true, answer: [soa] })))
  const records = Array.from({ length: 200 }, (_, at) => ({
    name: `host${at}.${origin}` as DnsName,
    type: 'TXT',
    class: 1,
    ttl: 60,
    data: `"${'x'.repeat(200)}"`,
  }))
  const more = framed(encodeMessage({ ...message(id, {}), response: true, answer: records }))
  const write = () => {
    while (!socket.destroyed && socket.write(more));
    if (!socket.destroyed) socket.once('drain', write)
  }
  write()
}

describe('a transfer', () => {
  it('ends at its limit of octets, with a sentence', async () => {
    const at = await nameServer(endless)
    const limits = { octets: 2_000_000, milliseconds: 60_000 }
    expect(await transferZone(at, origin, undefined, limits)).toMatchObject({
      ok: false,
      sentence: expect.stringContaining('sent over 2 MB'),
    })
  })

  it('ends at its limit of time where octets come one by one', async () => {
    const at = await nameServer((_, socket) => {
      socket.write(Buffer.from([0xff, 0xff]))
      const drip = setInterval(() => (socket.destroyed ? clearInterval(drip) : socket.write('x')), 20)
    })
    const limits = { octets: 2_000_000, milliseconds: 300 }
    expect(await transferZone(at, origin, undefined, limits)).toMatchObject({
      ok: false,
      sentence: expect.stringContaining('was not done after 0.3 s'),
    })
  })
})

describe('a faulty zone', () => {
  it(`of 4 MB is read until ${MAX_FAULTS} faults are found, and no further`, () => {
    const good = '$TTL 1h\n@ SOA ns1 h 1 2 3 4 5\n@ NS ns1\n'
    const { faults, entries } = readZone(good + 'a X\n'.repeat(1_000_000), origin)
    expect(faults).toHaveLength(MAX_FAULTS)
    expect(faults.at(-1)!.line).toBe(3 + MAX_FAULTS)
    expect(entries).toHaveLength(3 + MAX_FAULTS)
  })
})
