import { readZone } from '../../../../core/dns'
import { freePort } from '../../../../scripts/ports'
import type { ServerAddress } from '../../../../server/names/ask'
import { Authority } from '../../../../standins/names/authority'
import { NamesWorld } from '../../../../standins/names/world'
import { dig } from '../bind'
import { KEY, startCachingNamed, startNamed, startUnbound, type Program } from './programs'

/** A name server of a world, with what can befall it. */
export interface Other extends ServerAddress {
  hold(): void
  goOn(): void
  stop(): Promise<void>
}

/** Where the scenarios of name servers that go wrong are played: real ones, or our stand-ins. */
export interface HealthWorld {
  maker: string
  primary: ServerAddress
  resolvers: (ServerAddress & { name: string })[]
  serve(origin: string, text: string, where?: { port?: number; host?: string }): Promise<Other>
  /** A server that is meant to have the zone and never could take it over. */
  failing(origin: string): Promise<Other>
  /** A secondary of the zone and a way to have its copy expire. */
  expiring(origin: string, text: string): Promise<{ server: Other; expire(): Promise<void> }>
  stop(): Promise<void>
}

const sleep = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds))
export const status = async (server: { port: number }, name: string, type = 'SOA') =>
  dig(server.port, name, type, '+tries=1', '+time=1').then(
    ({ rcode }) => rcode,
    () => 'no answer',
  )
export async function until(holds: () => Promise<boolean>, what: string): Promise<void> {
  const give = Date.now() + 40_000
  while (!(await holds())) {
    if (Date.now() > give) throw new Error(`${what} never came`)
    await sleep(300)
  }
}

/** Debian's named, with unbound and a caching named as resolvers. */
export async function realWorld(zones: Record<string, string>): Promise<HealthWorld> {
  const programs: Program[] = []
  const keep = async (program: Promise<Program>) => {
    programs.push(await program)
    return programs.at(-1)!
  }
  const primary = await keep(
    startNamed(Object.fromEntries(Object.entries(zones).map(([origin, text]) => [origin, { text }])), {
      anybody: true,
    }),
  )
  const upstreams = Object.fromEntries(Object.keys(zones).map((origin) => [origin, [primary]]))
  const [unbound, caching] = [await keep(startUnbound(upstreams)), await keep(startCachingNamed(upstreams))]
  return {
    maker: 'named',
    primary,
    resolvers: [
      { name: 'unbound', host: unbound.host, port: unbound.port },
      { name: 'named', host: caching.host, port: caching.port },
    ],
    async serve(origin, text, where) {
      const program = await keep(startNamed({ [origin]: { text } }, where))
      const stop = async () => {
        programs.splice(programs.indexOf(program), 1)
        await program.stop()
      }
      return { ...program, stop }
    },
    failing: (origin) => keep(startNamed({ [origin]: { from: { host: '127.0.0.1', port: 1 } } })),
    async expiring(origin, text) {
      const source = await startNamed({ [origin]: { text } }, { anybody: true })
      const server = await keep(startNamed({ [origin]: { from: source } }))
      await until(async () => (await status(server, origin)) === 'NOERROR', 'the copy')
      return {
        server,
        async expire() {
          await source.stop()
          await until(async () => (await status(server, origin)) === 'SERVFAIL', 'the expiry')
        },
      }
    },
    stop: async () => void (await Promise.all(programs.map((program) => program.stop()))),
  }
}

/** The demo's own stand-ins. */
export async function standInWorld(zones: Record<string, string>): Promise<HealthWorld> {
  const world = await NamesWorld.start({ authorityPorts: [0], resolverPorts: [0, 0], keys: [KEY], openTransfers: true })
  for (const [origin, text] of Object.entries(zones)) world.put(origin, text)
  const started: Authority[] = []
  async function start(origin?: string, text = '', port = 0): Promise<Other & { authority: Authority }> {
    const authority = new Authority('second', { port: port || (await freePort()), keys: [KEY], openTransfers: true })
    if (origin) authority.zones.put(origin, readZone(text, origin).records)
    await authority.start()
    started.push(authority)
    return {
      authority,
      host: '127.0.0.1',
      port: authority.port,
      hold: () => (authority.faults = { silent: true }),
      goOn: () => (authority.faults = {}),
      stop: async () => {
        started.splice(started.indexOf(authority), 1)
        await authority.stop()
      },
    }
  }
  return {
    maker: 'stand-ins',
    primary: { host: '127.0.0.1', port: world.authorities[0]!.port },
    resolvers: world.resolvers.map(({ name, port }) => ({ name, host: '127.0.0.1', port })),
    serve: (origin, text, where) => start(origin, text, where?.port),
    async failing() {
      const server = await start()
      server.authority.faults = { servfail: true }
      return server
    },
    async expiring(origin, text) {
      const server = await start(origin, text)
      return { server, expire: async () => void (server.authority.faults = { servfail: true }) }
    },
    async stop() {
      await Promise.all(started.map((authority) => authority.stop()))
      await world.stop()
    },
  }
}
