import { Agent, request } from 'node:http'
import type { CrowdRequest } from './crowd'

/** Sends one request of the crowd to a gateway on loopback, through the proxy field a front would set. */
export function sendRequest(agent: Agent, port: number, of: CrowdRequest): Promise<number> {
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        agent,
        host: '127.0.0.1',
        port,
        method: of.method,
        path: of.target,
        headers: { ...of.headers, host: of.host, 'x-forwarded-for': of.address },
      },
      (response) => {
        response.resume()
        response.on('end', () => resolve(response.statusCode ?? 0))
      },
    )
    sent.on('error', reject)
    sent.end()
  })
}

export const crowdAgent = () => new Agent({ keepAlive: true, maxSockets: 8 })
