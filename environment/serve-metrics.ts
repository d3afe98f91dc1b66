import { createServer, type Server } from 'node:http'
import { register } from 'prom-client'

/**
 * Serves the figures of this process at /metrics, and that it runs at /live, on loopback alone. Nobody needs figures to
 * work: without them the process goes on, and `failed` hears why.
 */
export function serveMetrics(port: number, failed: (error: Error) => void): Server {
  const server = createServer((request, response) => {
    if (request.url === '/live') return void response.end('live\n')
    if (request.url !== '/metrics') return void response.writeHead(404).end('not here\n')
    void register.metrics().then(
      (text) => response.setHeader('content-type', register.contentType).end(text),
      () => response.writeHead(500).end(),
    )
  })
  server.on('error', failed)
  server.listen(port, '127.0.0.1')
  server.unref()
  return server
}
