import { TestFides, type Told } from './fides'
import { Outside, top } from './outside'

/** TTLs run this many times as fast, so that what takes an hour takes seconds. */
export const SPEED = 600
export const RIDER = `${top('rider.example')}; the survey's website
@ IN A 198.51.100.7
@ IN MX 10 mail
mail IN A 198.51.100.25
www IN CNAME @
`

/** A Fides with an outside world of its own: rider.example as a website, portansel.example with a wildcard. */
export class DomainWorld {
  outside!: Outside
  fides!: TestFides

  async start(): Promise<void> {
    this.outside = await Outside.start(SPEED)
    this.outside.world.put('rider.example.', RIDER)
    this.outside.world.put(
      'portansel.example.',
      `${top('portansel.example')}@ IN A 198.51.100.20\n@ IN MX 10 mail\nmail IN A 198.51.100.25\n* IN ` +
        `CNAME www\nwww IN A 198.51.100.20\n`,
    )
    this.fides = await TestFides.start({
      environment: (settings) =>
        this.outside.environment(settings, {
          FIDES_TTL_SPEED: String(SPEED),
          // As an operator lists a network of one's own; nothing is there but what has a way.
          FIDES_PRIVATE_NETWORKS: '192.0.2.0/24',
        }),
    })
  }

  async stop(): Promise<void> {
    await this.fides.stop()
    await this.outside.stop()
  }

  admin = <Body = Told>(method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
    this.fides.call<Body>('administrator', method, path, body, headers)
  add = async (host: string, more = {}) => (await this.admin('POST', '/domains', { host, ...more })).body.id as number
  bring = (id: number, zone: string | Uint8Array) =>
    this.admin('PUT', `/domains/${id}/zone`, zone, { 'content-type': 'text/dns' })
}
