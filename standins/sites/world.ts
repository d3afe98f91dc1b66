import { createServer as createHttp, type IncomingMessage, type ServerResponse, type Server } from 'node:http'
import { createServer as createHttps } from 'node:https'
import type { Socket } from 'node:net'
import { createSecureContext, type SecureContext } from 'node:tls'
import { BEHAVIOURS } from './behaviours'
import { Authority, type CertificateKind } from './certificates'
import type { Reply, SitePages, Visit } from './behaviour'
import { sitemapAnswer, type SitemapKind } from './sitemap'

/** One site: its pages, and what it plays where. */
export interface SiteSetting {
  host: string
  title: string
  /** Paths with titles. */
  pages: Record<string, string>
  /**
   * What it plays below a path, the longest that fits counts; `/` for all, `=/path` for one alone. Without any it
   * behaves well.
   */
  plays?: Record<string, string>
  /** Pages that moved: where to, and with which status. */
  moves?: Record<string, { status: number; to: string }>
  certificate?: CertificateKind
  /** How it tells of its pages. */
  sitemap?: SitemapKind
}

interface Site extends SitePages {
  plays: Record<string, string>
  moves: Record<string, { status: number; to: string }>
  certificate: CertificateKind
  sitemap: SitemapKind
  count: number
}

/** A small web on loopback: any number of hosts on one port for HTTP and one for TLS. */
export class SitesWorld {
  private readonly sites = new Map<string, Site>()
  private readonly contexts = new Map<string, Promise<SecureContext>>()
  private readonly servers: Server[] = []
  private readonly sockets = new Set<Socket>()
  /** Requests taken so far, by host. */
  readonly asked = new Map<string, number>()
  /** Told of each request. */
  seen: (visit: Visit) => void = () => undefined
  httpPort = 0
  httpsPort = 0

  private constructor(
    readonly authority: Authority,
    private readonly stranger: Authority,
  ) {}

  static async start(
    options: { httpPort?: number; httpsPort?: number; authority?: Authority } = {},
  ): Promise<SitesWorld> {
    const world = new SitesWorld(
      options.authority ?? (await Authority.make('Sites test authority')),
      await Authority.make('An authority nobody knows'),
    )
    const handle = (secure: boolean) => (request: IncomingMessage, response: ServerResponse) =>
      world.answer(secure, request, response)
    const fallback = await world.contextFor('sites.example', 'sound')
    const http = createHttp({ maxHeaderSize: 65_536 }, handle(false))
    const https = createHttps(
      {
        ...(await world.authority.issue(['sites.example'], 'sound')),
        // The weak certificate needs a server that will serve it.
        ciphers: 'DEFAULT@SECLEVEL=0',
        SNICallback: (name, done) => {
          const site = world.sites.get(name.toLowerCase())
          ;(site ? world.contextFor(site.host, site.certificate) : Promise.resolve(fallback)).then(
            (context) => done(null, context),
            (error: Error) => done(error),
          )
        },
      },
      handle(true),
    )
    for (const server of [http, https]) {
      server.on('connection', (socket: Socket) => {
        world.sockets.add(socket)
        socket.on('close', () => world.sockets.delete(socket))
        socket.on('error', () => undefined)
      })
      server.on('tlsClientError', () => undefined)
      server.on('clientError', (_error, socket) => socket.destroy())
      server.keepAliveTimeout = 1000
    }
    world.httpPort = await listen(http, options.httpPort ?? 0)
    world.httpsPort = await listen(https, options.httpsPort ?? 0)
    world.servers.push(http, https)
    return world
  }

  /** Puts a site up, in place of one of the same host. */
  put(setting: SiteSetting): void {
    const site: Site = {
      host: setting.host.toLowerCase(),
      title: setting.title,
      pages: new Map(Object.entries(setting.pages)),
      plays: { ...setting.plays },
      moves: { ...setting.moves },
      certificate: setting.certificate ?? 'sound',
      sitemap: setting.sitemap ?? 'plain',
      count: 0,
    }
    this.sites.set(site.host, site)
  }

  /** Breaks or mends a site from now on: what it plays below a path; nothing for as it should be. */
  play(host: string, path: string, behaviour: string | undefined): void {
    const site = this.sites.get(host)
    if (!site) throw new Error(`there is no site ${host}`)
    if (behaviour === undefined)
      site.plays = Object.fromEntries(Object.entries(site.plays).filter(([one]) => one !== path))
    else if (BEHAVIOURS.has(behaviour)) site.plays[path] = behaviour
    else throw new Error(`no site can play “${behaviour}”; there are ${[...BEHAVIOURS.keys()].join(', ')}`)
  }

  setPages(host: string, pages: Record<string, string>): void {
    const site = this.sites.get(host)
    if (!site) throw new Error(`there is no site ${host}`)
    site.pages = new Map(Object.entries(pages))
  }

  serveCertificate(host: string, certificate: CertificateKind): void {
    this.sites.get(host)!.certificate = certificate
  }

  /** Moves a page: leaves a redirect behind, or nothing. */
  move(host: string, from: string, to: string, status: number | undefined): void {
    const site = this.sites.get(host)!
    const pages = new Map(site.pages)
    pages.set(to, pages.get(from) ?? 'A page')
    pages.delete(from)
    site.pages = pages
    if (status) site.moves[from] = { status, to }
  }

  get hosts(): string[] {
    return [...this.sites.keys()]
  }

  async stop(): Promise<void> {
    for (const socket of this.sockets) socket.destroy()
    await Promise.all(this.servers.map((server) => new Promise<void>((resolve) => server.close(() => resolve()))))
  }

  private contextFor(host: string, kind: CertificateKind): Promise<SecureContext> {
    const key = `${kind} ${host}`
    let context = this.contexts.get(key)
    if (!context) {
      const issuer = kind === 'unknown-issuer' ? this.stranger : this.authority
      context = issuer
        .issue([host], kind)
        .then((served) => createSecureContext({ ...served, ciphers: 'DEFAULT@SECLEVEL=0' }))
      this.contexts.set(key, context)
    }
    return context
  }

  private answer(secure: boolean, request: IncomingMessage, response: ServerResponse): void {
    const host = (request.headers.host ?? '').replace(/:\d+$/, '').toLowerCase()
    const site = this.sites.get(host)
    this.asked.set(host, (this.asked.get(host) ?? 0) + 1)
    const [path = '/', ...rest] = request.url!.split('?')
    const query = rest.length > 0 ? `?${rest.join('?')}` : ''
    if (!site) return send(response, { status: 421, body: 'no such site here\n' })
    const visit: Visit = {
      host,
      path: path.replace(/%[0-9a-f]{2}/gi, (escape) => decode(escape)),
      query,
      method: request.method!,
      secure,
      headers: request.headers,
      count: site.count++,
    }
    this.seen(visit)
    const told = sitemapAnswer(visit, site, site.sitemap)
    if (told) return send(response, told)
    const moved = site.moves[visit.path]
    if (moved) return send(response, { status: moved.status, headers: { location: moved.to + query } })
    const played = Object.keys(site.plays)
      .filter(
        (start) => start === `=${path}` || path === start || path.startsWith(start.endsWith('/') ? start : `${start}/`),
      )
      .sort((a, b) => b.length - a.length)[0]
    const behaviour = BEHAVIOURS.get(played === undefined ? 'healthy' : site.plays[played]!)!
    const reply = behaviour.answer(visit, site)
    const act = () => send(response, reply)
    if ('afterMs' in reply && reply.afterMs) setTimeout(act, reply.afterMs)
    else act()
  }
}

const decode = (escape: string) => {
  const octet = Number.parseInt(escape.slice(1), 16)
  return octet > 32 && octet < 127 && octet !== 37 ? String.fromCharCode(octet) : escape
}

function send(response: ServerResponse, reply: Reply): void {
  const socket = response.socket
  if ('instead' in reply) {
    // Under TLS there is no more to it than an end without a word.
    if (reply.instead === 'reset') void (socket && 'encrypted' in socket ? socket.destroy() : socket?.resetAndDestroy())
    return
  }
  if ('raw' in reply) {
    socket?.write(reply.raw)
    if (!reply.drip) return void socket?.end()
    const timer = setInterval(() => socket?.write(' '), 100)
    socket?.on('close', () => clearInterval(timer))
    return
  }
  const body = reply.body ?? ''
  response.writeHead(reply.status, { ...reply.headers, 'content-length': Buffer.byteLength(body) })
  response.end(response.req.method === 'HEAD' ? undefined : body)
}

function listen(server: Server, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve((server.address() as { port: number }).port))
  })
}
