import { createServer, type IncomingMessage, type Server } from 'node:http'
import { nameOfHost, readZone, writeZone } from '../../core/dns'
import type { NamesWorld } from './world'

const read = async (request: IncomingMessage) => {
  const pieces: Buffer[] = []
  for await (const piece of request) pieces.push(piece as Buffer)
  return Buffer.concat(pieces).toString('latin1')
}

/**
 * The stand-in names' own switchboard, over HTTP on loopback: zones are read and put by name server (counted from 1),
 * faults of name servers and resolvers set as JSON, and the resolvers made to ask for something.
 */
export function createNamesControl(world: NamesWorld): Server {
  return createServer((request, response) => {
    handle(request)
      .then(({ status, body, type }) =>
        response.writeHead(status, { 'content-type': type ?? 'text/plain; charset=utf-8' }).end(body ?? ''),
      )
      .catch((error: Error) =>
        response.writeHead(400, { 'content-type': 'text/plain; charset=utf-8' }).end(error.message + '\n'),
      )
  })

  async function handle(request: IncomingMessage): Promise<{ status: number; body?: string; type?: string }> {
    const [kind, number, what, host] = new URL(request.url!, 'http://localhost').pathname.slice(1).split('/')
    const server = kind === 'authorities' ? world.authorities[Number(number) - 1] : undefined
    if (server && what === 'zones' && host) {
      const origin = nameOfHost(host)
      if (request.method === 'GET') {
        const zone = server.zones.get(origin)
        return zone ? { status: 200, body: writeZone(origin, zone.records), type: 'text/dns' } : { status: 404 }
      }
      const text = await read(request)
      if (server === world.authorities[0]) world.put(origin, text)
      else server.zones.put(origin, readZone(text, origin).records)
      return { status: 204 }
    }
    if (what === 'faults' && request.method === 'PUT') {
      const given = JSON.parse(await read(request)) as object
      const target = server ?? (kind === 'resolvers' ? world.resolvers[Number(number) - 1] : undefined)
      if (!target) return { status: 404 }
      target.faults = given
      if (server) world.catchUp()
      return { status: 204 }
    }
    if (kind === 'prime' && request.method === 'POST') {
      const { hosts, types, resolvers } = JSON.parse(await read(request)) as {
        hosts: string[]
        types: string[]
        resolvers?: number[]
      }
      await world.prime(hosts, types, resolvers)
      return { status: 204 }
    }
    return { status: 404 }
  }
}
