import { hostOfName, nameOfHost, readZone, type DnsName } from '../../core/dns'
import type { TsigKey } from '../../core/dns/wire'
import { Authority } from './authority'
import { Resolver } from './resolver'

/** The name servers' and resolvers' ports; 0 takes a free one. */
export interface NamesOptions {
  authorityPorts: readonly number[]
  resolverPorts: readonly number[]
  keys?: readonly TsigKey[]
  openTransfers?: boolean
  /** The name servers’ clock, in seconds; that of the machine by default. */
  now?(): number
  /** TTLs run this many times as fast as the clock on the wall. */
  speed?: number
}

const ROOT = `$TTL 86400
. SOA a.root.example. hostmaster.example. 1 1800 900 604800 900
. NS a.root.example.
`
/** Where the stand-in root and top-level domain say their name server is. */
export const ROOT_ADDRESS = '203.0.113.1'
const EXAMPLE = `$TTL 86400
@ SOA a.root.example. hostmaster.example. 1 1800 900 604800 900
@ NS a.root.example.
a.root A ${ROOT_ADDRESS}
`

/** The outside world's names on loopback: a primary and its secondary, and resolvers that keep answers. */
export class NamesWorld {
  readonly authorities: Authority[]
  readonly resolvers: Resolver[] = []

  private constructor(options: NamesOptions) {
    this.authorities = options.authorityPorts.map(
      (port, index) =>
        new Authority(`ns${index + 1}`, {
          port,
          keys: options.keys,
          openTransfers: options.openTransfers,
          now: options.now?.bind(options),
          changed: (origin) => index === 0 && this.spread(origin),
        }),
    )
  }

  static async start(options: NamesOptions): Promise<NamesWorld> {
    const world = new NamesWorld(options)
    for (const authority of world.authorities) await authority.start()
    const began = Date.now()
    const clock = () => began / 1000 + ((Date.now() - began) / 1000) * (options.speed ?? 1)
    const ports = world.authorities.map((authority) => authority.port)
    for (const [index, port] of options.resolverPorts.entries()) {
      // Each resolver prefers another name server, as round-trip times would have it.
      const turned = [...ports.slice(index % ports.length), ...ports.slice(0, index % ports.length)]
      const resolver = new Resolver(`Resolver ${String.fromCharCode(65 + index)}`, { port, authorities: turned, clock })
      await resolver.start()
      world.resolvers.push(resolver)
    }
    world.put('.', ROOT)
    world.put('example.', EXAMPLE)
    return world
  }

  /** Puts a zone on the primary, as its master file stands; the secondary follows unless it is told to stay behind. */
  put(origin: DnsName, text: string): void {
    const file = readZone(text, origin)
    if (file.faults.length > 0) throw new Error(`${hostOfName(origin)}: ${file.faults[0]!.sentence}`)
    this.authorities[0]!.zones.put(origin, file.records)
    this.spread(origin)
  }

  private spread(origin: DnsName): void {
    for (const secondary of this.authorities.slice(1)) secondary.follow(this.authorities[0]!, origin)
  }

  /** Lets a secondary that was behind catch up. */
  catchUp(): void {
    for (const origin of this.authorities[0]!.zones.origins) this.spread(origin)
  }

  /** Has resolvers (all, or those counted from 1) ask for these, so that they hold the answers. */
  async prime(hosts: readonly string[], types: readonly string[], numbers?: readonly number[]): Promise<void> {
    const chosen = this.resolvers.filter((_, index) => numbers?.includes(index + 1) ?? true)
    for (const host of hosts)
      for (const type of types) for (const resolver of chosen) await resolver.resolve(nameOfHost(host), type)
  }

  async stop(): Promise<void> {
    for (const server of [...this.resolvers, ...this.authorities]) await server.stop()
  }
}
