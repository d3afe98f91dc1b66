// Whoever sends slowly holds nothing for long. The shares of one sender: tests/unit/threads/fair-turns.test.ts.
import { createServer, type Server } from 'node:http'
import { connect, type AddressInfo, type Socket } from 'node:net'
import { afterEach, describe, expect, it } from 'vitest'
import { readBody } from '../../../server/http/read-body'
import { endSlowHeads } from '../../../server/http/slow-heads'
import type { Problem } from '../../../server/usecases/problem'

let server: Server | undefined
let stop = () => {}
afterEach(async () => {
  stop()
  stop = () => {}
  server?.closeAllConnections()
  await new Promise((done) => (server ? server.close(done) : done(undefined)))
  server = undefined
})

const FAST = { graceMs: 60, minOctetsPerSecond: 1_000_000, checkMs: 10 }

/** A server that reads bodies up to `most`; what it came to is answered. */
async function start(most = 1000): Promise<number> {
  server = createServer((request, response) => {
    readBody(request, response, most, FAST).then(
      (octets) => response.end(`read ${octets.length}`),
      (error: Problem) => {
        response.statusCode = error.status
        response.end(error.title)
      },
    )
  })
  await new Promise<void>((done) => server!.listen(0, '127.0.0.1', done))
  return (server.address() as AddressInfo).port
}

/** Opens a connection, writes, and gives all that comes back until it ends. */
const said = (port: number, write: (socket: Socket) => void) =>
  new Promise<string>((resolve, reject) => {
    const socket = connect(port, '127.0.0.1', () => write(socket))
    let text = ''
    socket.on('data', (piece: Buffer) => (text += piece.toString()))
    socket.on('close', () => resolve(text))
    socket.on('error', reject)
  })
const head = (length: number) => `POST / HTTP/1.1\r\nHost: desk.example\r\nContent-Length: ${length}\r\n\r\n`

describe('a body', () => {
  it('that comes is read', async () => {
    const port = await start()
    expect(await said(port, (socket) => socket.end(`${head(5)}hello`))).toMatch(/200 OK[^]*read 5$/)
  })

  it('that stops coming is cut off with 408, and its connection ends', async () => {
    const port = await start()
    const text = await said(port, (socket) => socket.write(`${head(900)}x`))
    expect(text).toMatch(/^HTTP\/1\.1 408 [^]*Too slow$/)
    expect(text).toMatch(/Connection: close/i)
  })

  it('that is too long is cut after one octet too many', async () => {
    const port = await start(10)
    expect(await said(port, (socket) => socket.end(`${head(500)}${'x'.repeat(500)}`))).toMatch(/read 11$/)
  })
})

describe('a head', () => {
  it('that came before the answer to the one before it keeps its connection', async () => {
    server = createServer((request, response) => {
      setTimeout(() => response.end(request.url), request.url === '/slow' ? 200 : 0)
    })
    await new Promise<void>((done) => server!.listen(0, '127.0.0.1', done))
    stop = endSlowHeads(80)
    const head = (path: string, more = '') => `GET ${path} HTTP/1.1\r\nHost: desk.example\r\n${more}\r\n`
    const text = await said((server.address() as AddressInfo).port, (socket) =>
      socket.write(head('/fast') + head('/slow', 'Connection: close\r\n')),
    )
    expect(text).toMatch(/\/fast[^]*\/slow$/)
  })

  it('that is not whole in time ends its connection, the first and the next', async () => {
    const port = await start()
    stop = endSlowHeads(80)
    expect(await said(port, (socket) => socket.write('GET / HTTP/1.1\r\nHost: de'))).toBe('')
    const text = await said(port, (socket) => {
      socket.write('GET / HTTP/1.1\r\nHost: desk.example\r\n\r\n')
      socket.once('data', () => socket.write('GET / HTTP/1.1\r\nHo'))
    })
    expect(text).toMatch(/200 OK/)
    expect(text.match(/HTTP\/1\.1/g)).toHaveLength(1)
  })
})
