import { createServer, type Server } from 'node:http'

const PAGES: Record<string, string> = {
  '/': 'Rider survey 2026',
  '/survey': 'Take part in the rider survey',
  '/results/2025': 'What riders told us in 2025',
  '/panel': 'Join the rider panel',
}

/** The website that answers under a name before it is switched over. */
export function createOldWebsite(): Server {
  return createServer((request, response) => {
    const title = PAGES[new URL(request.url!, 'http://localhost').pathname]
    response.writeHead(title ? 200 : 404, { 'content-type': 'text/html; charset=utf-8' })
    response.end(
      `<!doctype html><html lang="en"><title>${title ?? 'Not found'}</title><h1>${title ?? 'Not found'}</h1></html>`,
    )
  })
}
