import { once } from 'node:events'
import type { Server } from 'node:http'
import { BlockList, connect, type AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { trustedBy } from '../../../environment/peer'
import { createGateway } from '../../../gateway/server'
import { compile } from '../../../core/table'
import { domainRow, linkRow } from '../table/rows'

const table = compile(
  [domainRow({ httpsOnly: true, hstsSeconds: 300 }), domainRow({ id: 2, host: 'go.example' })],
  [linkRow({}), linkRow({ id: 2, slug: 'old', canonical: 'old', status: 301 }), linkRow({ id: 3, domainId: 2 })],
  1,
  [],
)
const proxies = new BlockList()
proxies.addAddress('127.0.0.1')
let trusted = true
let draining = false
let server: Server
let port: number
beforeAll(async () => {
  const isTrusted = trustedBy(proxies)
  server = createGateway({
    table: () => table,
    answered: () => undefined,
    isTrusted: (address) => trusted && isTrusted(address),
    draining: () => draining,
  })
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
  port = (server.address() as AddressInfo).port
})
afterAll(() => server.close())

/** Everything that comes back for these octets, until the other side ends or has sent nothing for a while. */
function raw(octets: string): Promise<string> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1')
    let text = ''
    let timer: NodeJS.Timeout | undefined
    const wait = () => {
      clearTimeout(timer)
      timer = setTimeout(() => socket.destroy(), 150)
    }
    socket.setEncoding('latin1').on('data', (piece: string) => {
      text += piece
      wait()
    })
    socket.on('close', () => resolve(text)).on('error', () => undefined)
    socket.write(octets)
    wait()
  })
}
const get = (path: string, host = 'go.example', ...fields: string[]) =>
  [`GET ${path} HTTP/1.1`, `Host: ${host}`, ...fields, '', ''].join('\r\n')
const statuses = (text: string) => [...text.matchAll(/^HTTP\/1\.1 (\d{3}) /gm)].map(([, status]) => Number(status))

describe('the common redirect', () => {
  it('is sent before Node ends the connection over the first word of HTTP/2 (RFC 9113 §3.4)', async () => {
    for (const preface of ['PRI * HTTP/2.0\r\n\r\nSM\r\n\r\n', 'PRI /stop/11HTTP/1.1\r\nHost: go.example\r\n\r\n'])
      expect(statuses(await raw(get('/fares') + preface))[0], preface).toBe(302)
  })

  it('is the same, field by field, whether written leanly or the ordinary way', async () => {
    const lean = await raw(get('/fares'))
    const ordinary = await raw(get('/fares', 'go.example', 'Connection: close'))
    const fields = (text: string) =>
      text
        .split('\r\n\r\n')[0]!
        .split('\r\n')
        .filter((line) => !/^(?:Date|Connection|Keep-Alive):/.test(line))
        .sort()
    expect(fields(lean)).toEqual(fields(ordinary))
    expect(lean.split('\r\n\r\n')[1]).toBe(ordinary.split('\r\n\r\n')[1])
    expect(lean).toContain('X-Content-Type-Options: nosniff')
    expect(lean).toMatch(/\r\nDate: [A-Z][a-z]{2}, \d\d [A-Z][a-z]{2} \d{4} \d\d:\d\d:\d\d GMT\r\n/)
  })
  it('comes in the order it was asked for, many on one connection', async () =>
    expect(statuses(await raw(get('/fares') + get('/nothing') + get('/fares') + get('/fares')))).toEqual([
      302, 404, 302, 302,
    ]))
  it('is given also where what follows on the connection is no HTTP', async () =>
    expect(statuses(await raw(get('/fares') + 'NONSENSE\r\n\r\n'))).toEqual([302, 400]))
  it('ends the connection while the process drains', async () => {
    draining = true
    try {
      expect(await raw(get('/fares'))).toMatch(/^HTTP\/1\.1 302 Found\r\n[\s\S]*Connection: close\r\n/)
    } finally {
      draining = false
    }
  })
})

describe('https, by the word of a trusted proxy', () => {
  const secure = 'X-Forwarded-Proto: https'
  it.each([
    [
      'http is sent on with its query',
      get('/fares?a=1&b', 'ansl.example', 'X-Forwarded-Proto: http'),
      308,
      'https://ansl.example/fares?a=1&b',
    ],
    ['https is answered', get('/fares', 'ansl.example', secure), 302, 'https://www.example/fares'],
    [
      'Forwarded tells as well (RFC 7239)',
      get('/fares', 'ansl.example', 'Forwarded: for=192.0.2.1;proto=http'),
      308,
      'https://ansl.example/fares',
    ],
    ['nobody says', get('/fares', 'ansl.example'), 302, 'https://www.example/fares'],
    [
      'a domain that does not wish it',
      get('/fares', 'go.example', 'X-Forwarded-Proto: http'),
      302,
      'https://www.example/fares',
    ],
  ])('%s', async (_what, octets, status, location) => {
    const text = await raw(octets)
    expect(statuses(text)).toEqual([status])
    expect(text).toContain(`\r\nLocation: ${location}\r\n`)
  })
  it('leaves /.well-known/ where it is (RFC 8615)', async () =>
    expect(statuses(await raw(get('/.well-known/x', 'ansl.example', 'X-Forwarded-Proto: http')))).toEqual([404]))
  it('says HSTS over https alone (RFC 6797 §7.2)', async () => {
    expect(await raw(get('/fares', 'ansl.example', secure))).toContain('\r\nStrict-Transport-Security: max-age=300\r\n')
    expect(await raw(get('/fares', 'ansl.example', 'X-Forwarded-Proto: http'))).not.toContain('Strict-Transport')
  })
  it('is not believed of a stranger', async () => {
    trusted = false
    try {
      expect(statuses(await raw(get('/fares', 'ansl.example', 'X-Forwarded-Proto: http')))).toEqual([302])
      expect(await raw(get('/fares', 'ansl.example', secure))).not.toContain('Strict-Transport')
    } finally {
      trusted = true
    }
  })
})
