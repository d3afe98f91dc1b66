import { once } from 'node:events'
import type { Server } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NO_OFFERS } from '../../../gateway/likely'
import { createGateway } from '../../../gateway/server'
import type { Answer } from '../../../core/table'
import { tableOf } from '../table/rows'

const table = tableOf(
  [
    { slug: 'fares' },
    { slug: 'form', status: 307 },
    { slug: 'old', status: 301 },
    { slug: 'carry', query: 'carry', destination: 'https://www.example/?a=1' },
    { slug: 'paused', standing: 'paused' },
    { slug: 'gone', standing: 'retired' },
    { slug: 'caf\u00e9', canonical: 'caf\u00e9' },
    { slug: 'nasty', destination: 'https://www.example/?x="><script>alert(1)</script>&y=\'' },
  ],
  { host: 'ansl.example' },
)
const answered: Answer[] = []
let server: Server
let port: number

beforeAll(async () => {
  server = createGateway({ table: () => table, answered: (_request, _fields, given) => answered.push(given) })
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
  port = (server.address() as AddressInfo).port
})
afterAll(() => server.close())

/** Sends bytes as they are, and reads until the connection ends. */
async function raw(bytes: string | Buffer): Promise<string> {
  const socket = connect(port, '127.0.0.1')
  socket.end(bytes)
  let text = ''
  socket.setEncoding('latin1').on('data', (piece: string) => (text += piece))
  await once(socket, 'close')
  return text
}
const ask = (line: string, ...fields: string[]) =>
  raw([`${line} HTTP/1.1`, 'Host: ansl.example', 'Connection: close', ...fields, '', ''].join('\r\n'))
const status = (response: string) => Number(response.split(' ')[1])
const body = (response: string) => response.slice(response.indexOf('\r\n\r\n') + 4)

describe('the gateway over HTTP', () => {
  it('redirects with a short note', async () => {
    const response = await ask('GET /fares')
    expect(response).toMatch(
      /^HTTP\/1\.1 302 Found\r\nLocation: https:\/\/www\.example\/fares\r\nCache-Control: no-store\r\n/,
    )
    expect(body(response)).toContain('<a href="https://www.example/fares">')
  })

  it('refuses a Host longer than any name can be, and more fields than anybody sends', async () => {
    for (const host of ['a'.repeat(15_000), '\u00fc'.repeat(7000), 'a.'.repeat(7000), 'xn--'.repeat(3500)])
      expect(status(await raw(`GET /fares HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n\r\n`))).toBe(400)
    expect(status(await raw(`GET http://${'b'.repeat(7000)}/fares HTTP/1.1\r\nHost: x\r\n\r\n`))).toBe(400)
    const fields = (count: number) => Array.from({ length: count }, (_, index) => `A${index}: b`)
    expect(status(await ask('GET /fares', ...fields(900)))).toBe(302)
    const refused = await ask('GET /fares', ...fields(1100))
    expect(refused).toMatch(/^HTTP\/1\.1 431 /)
    expect(refused).toMatch(/connection: close/i)
  })

  it('answers HEAD with GET’s fields and no body', async () => {
    const fields = (response: string) => response.slice(0, response.indexOf('\r\n\r\n')).replace(/Date: .*/, '')
    const [head, get] = [await ask('HEAD /fares'), await ask('GET /fares')]
    expect(fields(head)).toBe(fields(get))
    expect(body(head)).toBe('')
  })

  it.each([
    ['OPTIONS /fares', 204],
    ['TRACE /fares', 405],
    ['POST /form', 307],
    ['DELETE /fares', 302],
    ['GET /old', 301],
    ['GET /paused', 404],
    ['GET /gone', 410],
    ['GET /nite', 404],
    ['GET /%zz', 400],
    ['GET /%0a', 400],
    ['GET /.well-known/acme-challenge/x', 404],
    ['GET /robots.txt', 200],
    ['GET /favicon.ico', 204],
    ['GET /' + 'a'.repeat(8000), 414],
    ['GET /' + 'a'.repeat(60_000), 414],
    ['GET http://ansl.example/fares', 302],
    ['GET http://other.example/fares', 421],
  ])('%s', async (line, expected) => {
    expect(status(await ask(line))).toBe(expected)
  })

  it('refuses a CONNECT, a missing Host, two Hosts and an unknown one', async () => {
    expect(status(await raw('CONNECT other.example:443 HTTP/1.1\r\nHost: other.example:443\r\n\r\n'))).toBe(405)
    expect(status(await raw('GET /fares HTTP/1.1\r\nConnection: close\r\n\r\n'))).toBe(400)
    expect(
      status(await raw('GET /fares HTTP/1.1\r\nHost: ansl.example\r\nHost: b.example\r\nConnection: close\r\n\r\n')),
    ).toBe(400)
    expect(status(await raw('GET /fares HTTP/1.1\r\nHost: b.example\r\nConnection: close\r\n\r\n'))).toBe(421)
    expect(status(await raw('GET /fares HTTP/1.0\r\n\r\n'))).toBe(421)
  })

  it('refuses what is no HTTP, and a header over its limit', async () => {
    expect(status(await raw('\x16\x03\x01\x02\x00\x01'))).toBe(400)
    expect(status(await ask('GET /fares', 'Cookie: ' + 'x'.repeat(60_000)))).toBe(431)
  })

  it('reads UTF-8 in escapes, and refuses it bare (RFC 9112 §3.2)', async () => {
    expect(status(await ask('GET /caf%C3%A9'))).toBe(302)
    expect(
      status(await raw(Buffer.from('GET /caf\u00e9 HTTP/1.1\r\nHost: ansl.example\r\nConnection: close\r\n\r\n'))),
    ).toBe(400)
  })

  it('carries the query, and nothing else', async () => {
    expect(await ask('GET /carry?b=2&a=9')).toContain('Location: https://www.example/?a=1&b=2')
    // RFC 9112 §3.2: a fragment is no part of a target, and must not reach Location.
    expect(await ask('GET /carry?b=2&a=9#x')).toMatch(/^HTTP\/1\.1 400 /)
    expect(await ask('GET /fares?b=2')).toContain('Location: https://www.example/fares\r\n')
  })

  it('escapes what it writes into pages', async () => {
    expect(body(await ask('GET /nasty'))).not.toContain('<script>')
    const missing = body(await ask('GET /%3Cscript%3Ealert(1)%3C/script%3E'))
    expect(missing).not.toContain('<script>')
  })

  it('answers in the domain’s name, and shows nothing of the administrator’s side', async () => {
    for (const line of ['GET /nite', 'GET /gone', 'GET /paused', 'GET /']) {
      const response = await ask(line)
      expect(body(response)).toContain('ansl.example')
      expect(response).not.toMatch(/fides|nuxt|node|mariadb|api\/v1|set-cookie|server:/i)
      expect(response).toContain('Cache-Control: no-store')
    }
  })

  it('tells of each request it answered', async () => {
    answered.length = 0
    await ask('GET /fares')
    await ask('GET /nite')
    expect(answered.map((given) => given.outcome)).toEqual(['redirect', 'not-found'])
  })

  it('answers whoever closes their half after asking, also with a page that takes a moment', async () => {
    const slow = createGateway({
      table: () => table,
      answered: () => undefined,
      offers: () => new Promise((resolve) => setTimeout(() => resolve(NO_OFFERS), 40)),
    })
    slow.listen(0, '127.0.0.1')
    await once(slow, 'listening')
    const socket = connect((slow.address() as AddressInfo).port, '127.0.0.1')
    socket.end('GET /nite HTTP/1.1\r\nHost: ansl.example\r\n\r\n')
    let text = ''
    socket.setEncoding('latin1').on('data', (piece: string) => (text += piece))
    await once(socket, 'close')
    slow.close()
    expect(status(text)).toBe(404)
    expect(body(text)).toContain('ansl.example')
  })

  it('keeps a connection for the next request, also after a body', async () => {
    const response = await raw(
      'POST /form HTTP/1.1\r\nHost: ansl.example\r\nContent-Length: 5\r\n\r\nhelloGET /fares ' +
        'HTTP/1.1\r\nHost: ansl.example\r\nConnection: close\r\n\r\n',
    )
    expect(response.match(/HTTP\/1\.1 30\d/g)).toEqual(['HTTP/1.1 307', 'HTTP/1.1 302'])
  })
})
