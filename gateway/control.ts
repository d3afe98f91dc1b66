import { readdir, stat, statfs } from 'node:fs/promises'
import { createServer, type Server, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import { AggregatorRegistry, Gauge, Registry } from 'prom-client'
import { readHost } from '../core/address'
import { READY, spoolFolder } from '../environment/spool-folder'
import type { LikelyFigures } from './likely'
import type { Lead, ServingStatus } from './messages'

/** What the gateway says of itself. */
export interface GatewayHealth {
  status: 'ok' | 'without-database' | 'down'
  /** Processes that answer visitors. */
  processes: number
  /** How often fresh processes took over from old ones. */
  handovers: number
  /** The least of all processes, as are `links` and `heardAt`. */
  revision: number
  /** When the database last answered; `null` where it has not since the start. */
  heardAt: string | null
  links: number
  spooledBatches: number
  heapBytes: number
  /** Of pages for what was not found: how often links were ranked for them, and how often that was given up. */
  likely: LikelyFigures
}

/** Segments that wait for the shipper, and their octets. */
async function spoolDepth(state: string): Promise<{ segments: number; octets: number }> {
  const folder = spoolFolder(state)
  const names = (await readdir(folder).catch(() => [])).filter((name) => name.endsWith(READY))
  const sizes = await Promise.all(
    names.map((name) =>
      stat(join(folder, name)).then(
        ({ size }) => size,
        () => 0,
      ),
    ),
  )
  return { segments: names.length, octets: sizes.reduce((sum, size) => sum + size, 0) }
}

/** The process that knows least decides: what it answers is what some visitors get. */
function together(
  statuses: readonly ServingStatus[],
  { spooledBatches, handovers }: Pick<GatewayHealth, 'spooledBatches' | 'handovers'>,
): GatewayHealth {
  const least = (read: (status: ServingStatus) => number) => Math.min(...statuses.map(read))
  const sum = (read: (status: ServingStatus) => number) => statuses.reduce((total, status) => total + read(status), 0)
  const heard = statuses.map(({ heardAt }) => heardAt)
  const why = (kind: keyof LikelyFigures['givenUp']) => sum(({ likely }) => likely.givenUp[kind])
  return {
    status: statuses.length === 0 ? 'down' : statuses.every(({ connected }) => connected) ? 'ok' : 'without-database',
    processes: statuses.length,
    handovers,
    revision: statuses.length === 0 ? 0 : least(({ revision }) => revision),
    heardAt:
      heard.length === 0 || heard.includes(null) ? null : new Date(Math.min(...(heard as number[]))).toISOString(),
    links: statuses.length === 0 ? 0 : least(({ links }) => links),
    spooledBatches,
    heapBytes: sum(({ heapBytes }) => heapBytes),
    likely: {
      ranked: sum(({ likely }) => likely.ranked),
      remembered: sum(({ likely }) => likely.remembered),
      givenUp: { busy: why('busy'), waiting: why('waiting'), late: why('late'), notReady: why('notReady') },
    },
  }
}

/**
 * The control port, for loopback only: health and metrics, the nudge that a change was made, and for the front whether
 * a name is served here, which it asks before it gets a certificate.
 */
export function createControl(state: string, lead: Lead): Server {
  const aggregator = new AggregatorRegistry()
  const own = new Registry()
  let depth = { segments: 0, octets: 0 }
  let free = 0
  const gauge = (name: string, help: string, read: () => number) =>
    new Gauge({
      name,
      help,
      registers: [own],
      collect() {
        this.set(read())
      },
    })
  gauge('fides_spool_segments', 'Segments of visits that wait for the shipper.', () => depth.segments)
  gauge('fides_spool_octets', 'Bytes of visits that wait for the shipper.', () => depth.octets)
  gauge('fides_disk_free_bytes', 'Bytes that are free where the gateway keeps its state.', () => free)
  gauge('fides_gateway_processes', 'Processes that answer visitors.', () => lead.serving())
  gauge('fides_gateway_restarts', 'Serving processes restarted after an unexpected end.', () => lead.restarts())

  async function answer(method: string, url: URL, response: ServerResponse): Promise<void> {
    const say = (status: number, type: string, text: string) =>
      response.writeHead(status, { 'Content-Type': type, 'Cache-Control': 'no-store' }).end(text)
    if (method === 'POST' && url.pathname === '/nudge') {
      lead.nudge()
      return void response.writeHead(204).end()
    }
    if (method !== 'GET') return void response.writeHead(404).end()
    switch (url.pathname) {
      // Alive is who answers at all; ready is who has a process that answers visitors.
      case '/live':
        return void say(200, 'text/plain', 'ok\n')
      case '/ready':
        return void (lead.serving() > 0
          ? say(200, 'text/plain', 'ok\n')
          : say(503, 'text/plain', 'nobody serves yet\n'))
      case '/ask': {
        const reading = readHost(url.searchParams.get('domain') ?? '')
        const open = reading.ok && lead.isOpen(reading.host)
        return void say(open ? 200 : 403, 'text/plain', open ? 'served here\n' : 'not served here\n')
      }
      case '/health': {
        const statuses = await lead.statuses()
        const health = together(statuses, {
          spooledBatches: (await spoolDepth(state)).segments,
          handovers: lead.handovers(),
        })
        return void say(200, 'application/json', JSON.stringify(health))
      }
      case '/metrics': {
        depth = await spoolDepth(state)
        free = await statfs(state).then(
          ({ bavail, bsize }) => bavail * bsize,
          () => 0,
        )
        const parts = await Promise.all([own.metrics(), aggregator.clusterMetrics().catch(() => '')])
        return void say(200, own.contentType, parts.join('\n'))
      }
      default:
        return void response.writeHead(404).end()
    }
  }

  return createServer((request, response) => {
    const url = URL.canParse(request.url ?? '', 'http://control') ? new URL(request.url!, 'http://control') : undefined
    if (!url) return void response.writeHead(404).end()
    answer(request.method ?? '', url, response).catch(() => response.destroy())
  })
}
