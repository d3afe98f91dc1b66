import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NO_POLITENESS, type Asker } from '../../server/targets/asker'
import { fetchFile } from '../../server/usecases/exchange/fetch-file'
import { refusal } from './register'

const LIST = '/a https://www.portansel.example/a 302\n'
let server: Server
let asker: Asker
let asked: string[] = []
beforeAll(async () => {
  server = createServer((request, response) => {
    asked.push(`${request.headers.host}${request.url}`)
    switch (request.url) {
      case '/redirects.txt':
        return response.end(LIST)
      case '/moved':
        return response.writeHead(302, { location: 'http://files.example/redirects.txt' }).end()
      case '/round':
        return response.writeHead(302, { location: '/round' }).end()
      case '/inside':
        return response.writeHead(302, { location: 'http://inside.example/redirects.txt' }).end()
      case '/script':
        return response.writeHead(302, { location: 'file:///etc/hosts' }).end()
      case '/broken':
        response.writeHead(200, { 'content-length': '1000' }).write('/a https://')
        return setTimeout(() => response.destroy(), 20)
      case '/endless': {
        const piece = Buffer.alloc(1_000_000, 'a')
        const more = () => {
          while (!response.destroyed && response.write(piece));
        }
        response.on('drain', more)
        return more()
      }
    }
    response.writeHead(404).end('nothing here')
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const { port } = server.address() as AddressInfo
  asker = {
    lookUp: async (host) =>
      host === 'inside.example'
        ? { ok: true, addresses: ['10.0.0.1'] }
        : host === 'files.example'
          ? { ok: true, addresses: ['192.0.2.9'] }
          : { ok: false, reason: 'no-name', text: 'no such name' },
    mayAsk: (address) => address === '192.0.2.9',
    way: () => ({ host: '127.0.0.1', port }),
    turns: NO_POLITENESS,
    userAgent: 'Fides',
    timeoutMs: 2000,
  }
})
afterAll(() => server.close())

describe('a file on a server', () => {
  it.each([
    ['http://files.example/redirects.txt', 'redirects.txt'],
    ['http://files.example/moved', 'moved'],
  ])('%s is fetched, as %s', async (address, name) => {
    expect(await fetchFile(asker, address)).toEqual({ name, octets: Buffer.from(LIST) })
  })
  it.each([
    ['ftp://files.example/x', /begins with https/],
    ['http://nowhere.example/x', /^nowhere\.example: no such name/],
    ['http://inside.example/x', /not a public address/],
    ['http://files.example/inside', /inside\.example: 10\.0\.0\.1 is not a public address/],
    ['http://files.example/script', /which is no address|begins with/],
    ['http://files.example/round', /more than 5 times/],
    ['http://files.example/missing', /answers 404/],
    ['http://files.example/broken', /breaks off before its end/],
    ['http://files.example/endless', /longer than 50 MB/],
  ])('%s is refused in a sentence', async (address, sentence) => {
    asked = []
    expect((await refusal(fetchFile(asker, address))).detail).toMatch(sentence)
    expect(asked.filter((one) => one.startsWith('inside.example'))).toEqual([])
  })
})
