import { createSecureContext } from 'node:tls'
import { makeNamesContext } from '../../../server/names/context'
import { workerVariables } from '../../../environment/variables'
import { NO_POLITENESS, type Asker } from '../../../server/targets/asker'
import { makeLookUp } from '../../../server/targets/resolve'
import { NamesWorld } from '../../../standins/names/world'
import { BEHAVIOURS } from '../../../standins/sites/behaviours'
import { SitesWorld, type SiteSetting } from '../../../standins/sites/world'

const FOUR = '192.0.2.20'
const SIX = '2001:db8::20'

/** The pages every stand-in site has. */
export const PAGES = {
  '/': 'The front page',
  '/night-network/map': 'Map of the night network',
  '/fares/2027': 'Fares of 2027',
  '/docs/plan.pdf': 'Plan of the quays',
}

/** Names and sites on loopback, with what asks them: one host for each behaviour, and one for each certificate. */
export class SmallWeb {
  private constructor(
    readonly names: NamesWorld,
    readonly sites: SitesWorld,
    readonly asker: Asker,
  ) {}

  static async start(timeoutMs = 1500): Promise<SmallWeb> {
    const names = await NamesWorld.start({ authorityPorts: [0], resolverPorts: [0] })
    const sites = await SitesWorld.start()
    names.put(
      'sites.example.',
      `$TTL 60\n@ SOA ns1 hostmaster 1 7200 900 1209600 60\n@ NS ns1\nns1 A 192.0.2.53\n@ A ${FOUR}\n* A ${FOUR}\n` +
        `ipv6-only AAAA ${SIX}\nno-address TXT "no address here"\ninside A 10.9.8.7\n`,
    )
    const put = (name: string, more: Partial<SiteSetting> = {}) =>
      sites.put({ host: `${name}.sites.example`, title: `The ${name} site`, pages: PAGES, ...more })
    for (const name of BEHAVIOURS.keys()) put(name, { plays: { '/': name } })
    for (const certificate of ['expired', 'not-yet', 'wrong-host', 'self-signed', 'unknown-issuer', 'weak'] as const)
      put(`certificate-${certificate}`, { certificate })
    put('ipv6-only')
    put('login', { plays: { '/': 'soft-sign-in' } })
    const way = (port: number) => (port === 443 ? sites.httpsPort : sites.httpPort)
    const detours = [
      [`${FOUR}:80`, way(80)],
      [`${FOUR}:443`, way(443)],
      [`[${SIX}]:80`, way(80)],
      [`[${SIX}]:443`, way(443)],
    ]
    const context = makeNamesContext(
      workerVariables.parse({
        FIDES_DATABASE_URL: 'mariadb://a:b@127.0.0.1:1/fides',
        FIDES_SECRET: 'x'.repeat(32),
        FIDES_RESOLVERS: `one=127.0.0.1:${names.resolvers[0]!.port}`,
        FIDES_DETOURS: detours.map(([from, port]) => `${from}=127.0.0.1:${port}`).join(','),
      }),
    )
    return new SmallWeb(names, sites, {
      lookUp: makeLookUp(context),
      mayAsk: context.mayAsk,
      way: context.way,
      turns: NO_POLITENESS,
      userAgent: 'Fides (destination check; +web@portansel.example)',
      trust: createSecureContext({ ca: sites.authority.pem }),
      timeoutMs,
    })
  }

  async stop(): Promise<void> {
    await this.sites.stop()
    await this.names.stop()
  }
}
