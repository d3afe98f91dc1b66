import { createServer, type IncomingMessage, type Server } from 'node:http'
import { BEHAVIOURS } from './behaviours'
import type { CertificateKind } from './certificates'
import type { SiteSetting, SitesWorld } from './world'

const read = async (request: IncomingMessage) => {
  const pieces: Buffer[] = []
  for await (const piece of request) pieces.push(piece as Buffer)
  return JSON.parse(Buffer.concat(pieces).toString() || '{}') as Record<string, never>
}

/**
 * The sites’ own switchboard, over HTTP on loopback: `PUT /sites` puts sites up (a list of settings), `PUT /play`
 * breaks or mends one ({ host, path, behaviour }, without a behaviour mended), `PUT /certificate` has one serve another
 * ({ host, certificate }); `GET /` lists hosts and what can be played.
 */
export function createSitesControl(world: SitesWorld): Server {
  return createServer((request, response) => {
    handle(request).then(
      (body) =>
        response.writeHead(body === undefined ? 204 : 200, { 'content-type': 'application/json' }).end(body ?? ''),
      (error: Error) => response.writeHead(400, { 'content-type': 'text/plain' }).end(`${error.message}\n`),
    )
  })

  async function handle(request: IncomingMessage): Promise<string | undefined> {
    if (request.method === 'GET')
      return JSON.stringify({
        hosts: world.hosts,
        plays: Object.fromEntries([...BEHAVIOURS.values()].map(({ name, words }) => [name, words])),
      })
    const given = await read(request)
    if (request.url === '/sites') for (const site of given as unknown as SiteSetting[]) world.put(site)
    else if (request.url === '/play') world.play(given.host!, given.path ?? '/', given.behaviour)
    else if (request.url === '/certificate')
      world.serveCertificate(given.host!, given.certificate as unknown as CertificateKind)
    else throw new Error(`there is no ${request.method} ${request.url} here`)
    return undefined
  }
}
