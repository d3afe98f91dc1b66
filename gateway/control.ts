import { createServer, type Server } from 'node:http'
import { countLinks } from '../core/table'
import type { Follower } from './follow'
import type { Likely, LikelyFigures } from './likely'
import type { Shipper } from './ship'

/** What the gateway says of itself. */
export interface GatewayHealth {
  status: 'ok' | 'without-database'
  revision: number
  /** When the database last answered; `null` where it has not since the start. */
  heardAt: string | null
  links: number
  spooledBatches: number
  heapBytes: number
  /** Of pages for what was not found: how often links were ranked for them, and how often that was given up. */
  likely: LikelyFigures
}

/** The control port, for loopback only: health for the desk, and the nudge that a change was made. */
export function createControl(follower: Follower, shipper: Shipper, likely: Likely): Server {
  return createServer((request, response) => {
    if (request.method === 'POST' && request.url === '/nudge') {
      follower.nudge()
      return void response.writeHead(204).end()
    }
    if (request.method !== 'GET' || request.url !== '/health') return void response.writeHead(404).end()
    const health: GatewayHealth = {
      status: follower.connected ? 'ok' : 'without-database',
      revision: follower.table.revision,
      heardAt: follower.heardAt === undefined ? null : new Date(follower.heardAt).toISOString(),
      links: countLinks(follower.table),
      spooledBatches: shipper.waiting,
      heapBytes: process.memoryUsage().heapUsed,
      likely: likely.figures,
    }
    response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(health))
  })
}
