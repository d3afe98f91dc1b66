import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { NamesWorld } from '../../standins/names/world'
import { SitesWorld } from '../../standins/sites/world'

/** Where every host below site.example is. */
export const ADDRESS = '192.0.2.20'

/** Names and sites on loopback for a Fides whose links lead there: any host below site.example that was put up. */
export class TargetWorld {
  private readonly folder = mkdtempSync(join(tmpdir(), 'fides-sites-'))

  private constructor(
    readonly names: NamesWorld,
    readonly sites: SitesWorld,
  ) {
    writeFileSync(join(this.folder, 'authority.pem'), sites.authority.pem)
  }

  static async start(): Promise<TargetWorld> {
    const world = new TargetWorld(
      await NamesWorld.start({ authorityPorts: [0], resolverPorts: [0] }),
      await SitesWorld.start(),
    )
    world.names.put(
      'site.example.',
      `$TTL 5\n@ SOA ns1 h 1 7200 900 1209600 5\n@ NS ns1\nns1 A 192.0.2.53\n* A ${ADDRESS}\n`,
    )
    return world
  }

  /** What a Fides is told of it. */
  get environment(): Record<string, string> {
    return {
      FIDES_RESOLVERS: `one=127.0.0.1:${this.names.resolvers[0]!.port}`,
      FIDES_DETOURS:
        `${ADDRESS}:80=127.0.0.1:${this.sites.httpPort},` + `${ADDRESS}:443=127.0.0.1:${this.sites.httpsPort}`,
      NODE_EXTRA_CA_CERTS: join(this.folder, 'authority.pem'),
    }
  }

  /** Cuts this machine off from the names, or joins it again. */
  cutOff(silent: boolean): void {
    this.names.resolvers[0]!.faults = silent ? { silent: true } : {}
  }

  async stop(): Promise<void> {
    await this.sites.stop()
    await this.names.stop()
    rmSync(this.folder, { recursive: true, force: true })
  }
}
