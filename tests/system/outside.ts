import { readFileSync } from 'node:fs'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { createServer as createTlsServer } from 'node:tls'
import type { SystemSettings } from '../../scripts/settings'
import { createOldWebsite } from '../../standins/web/old-website'
import { NamesWorld, ROOT_ADDRESS } from '../../standins/names/world'

export const KEY = { name: 'desk-key', secret: Buffer.alloc(32, 9).toString('base64') }
export const NAME_SERVERS = ['192.0.2.53', '198.51.100.53'] as const
export const GATEWAY = { name: 'links.front.example', ipv4: '192.0.2.80', ipv6: '2001:db8::80' }
const CERTIFICATES = join(import.meta.dirname, 'certificates')
const OLD_WEBSITE = '198.51.100.7'

/** The top of a zone whose name servers are the stand-ins. */
export const top = (origin: string, ttl = 3600, negative = 900) => `$ORIGIN ${origin}.
$TTL ${ttl}
@ IN SOA ns1 hostmaster ( 2026111801 7200 900 1209600 ${negative} )
@ IN NS ns1
@ IN NS ns2
ns1 IN A ${NAME_SERVERS[0]}
ns2 IN A ${NAME_SERVERS[1]}
`

/** The outside world of a test: name servers, resolvers and an old website, all in this process. */
/** A certificate in PEM with the digits of its GeneralizedTime end turned into no date (X.690 §11.7). */
function endingNever(pem: string): string {
  const der = Buffer.from(pem.replace(/-----[^-]+-----|\s/g, ''), 'base64')
  const at = der.indexOf(Buffer.from([0x18, 15, 0x32]))
  if (at === -1) throw new Error('the certificate has no end as GeneralizedTime')
  der.write('26991399999999', at + 2, 'latin1')
  const lines = der.toString('base64').replace(/.{64}/g, '$&\n')
  return `-----BEGIN CERTIFICATE-----\n${lines}\n-----END CERTIFICATE-----\n`
}

export class Outside {
  readonly website: Server = createOldWebsite()
  /** What terminates TLS in front of the gateway; see `serve`. */
  readonly front = createTlsServer((socket) => socket.on('error', () => undefined).end())

  private constructor(readonly world: NamesWorld) {}

  static async start(speed = 1): Promise<Outside> {
    const world = await NamesWorld.start({
      authorityPorts: [0, 0],
      resolverPorts: [0, 0, 0],
      keys: [{ name: `${KEY.name}.`, secret: Buffer.from(KEY.secret, 'base64') }],
      openTransfers: true,
      speed,
    })
    const outside = new Outside(world)
    await new Promise<void>((resolve) => outside.website.listen(0, '127.0.0.1', resolve))
    outside.serve('sound')
    await new Promise<void>((resolve) => outside.front.listen(0, '127.0.0.1', resolve))
    world.put('front.example.', `${top('front.example')}links A ${GATEWAY.ipv4}\nlinks AAAA ${GATEWAY.ipv6}\n`)
    return outside
  }

  /** What a Fides is told of this world. */
  environment(settings: SystemSettings, more: Record<string, string> = {}): Record<string, string> {
    const gateway = `127.0.0.1:${settings.FIDES_GATEWAY_PORT}`
    const front = `127.0.0.1:${(this.front.address() as AddressInfo).port}`
    const website = `127.0.0.1:${(this.website.address() as AddressInfo).port}`
    const detours = [
      `${ROOT_ADDRESS}:53=127.0.0.1:${this.world.authorities[0]!.port}`,
      ...NAME_SERVERS.map((address, index) => `${address}:53=127.0.0.1:${this.world.authorities[index]!.port}`),
      `${GATEWAY.ipv4}:80=${gateway}`,
      `[${GATEWAY.ipv6}]:80=${gateway}`,
      `${OLD_WEBSITE}:80=${website}`,
      `203.0.113.66:80=${website}`,
      `${GATEWAY.ipv4}:443=${front}`,
      `[${GATEWAY.ipv6}]:443=${front}`,
    ]
    return {
      NODE_EXTRA_CA_CERTS: join(CERTIFICATES, 'authority.pem'),
      FIDES_PUBLIC_NAME: GATEWAY.name,
      FIDES_PUBLIC_ADDRESSES: `${GATEWAY.ipv4},${GATEWAY.ipv6}`,
      FIDES_CERTIFICATE_ISSUERS: 'ca.example',
      FIDES_WATCH_SECONDS: '2',
      FIDES_RESOLVERS: this.world.resolvers.map((resolver) => `${resolver.name}=127.0.0.1:${resolver.port}`).join(','),
      FIDES_DETOURS: detours.join(','),
      ...more,
    }
  }

  /** Has the front serve another certificate from now on; `unreadable` is the sound one with an end that is no date. */
  serve(name: 'sound' | 'other' | 'expired' | 'unreadable'): void {
    const file = name === 'unreadable' ? 'sound' : name
    const cert = readFileSync(join(CERTIFICATES, `${file}.pem`), 'utf8')
    this.front.setSecureContext({
      key: readFileSync(join(CERTIFICATES, `${file}.key`)),
      cert: name === 'unreadable' ? endingNever(cert) : cert,
    })
  }

  async stop(): Promise<void> {
    this.front.close()
    this.website.closeAllConnections()
    this.website.close()
    await this.world.stop()
  }
}
