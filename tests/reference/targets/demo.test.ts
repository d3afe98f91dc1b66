// The demo world holds at least three cases of every kind at its first start (the demo's own promise).
import { createSecureContext } from 'node:tls'
import pLimit from 'p-limit'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { judge, VERDICT_NAMES, type VerdictName } from '../../../core/targets'
import { portAnselLinks } from '../../../server/database/seed/port-ansel'
import { asItIs, portAnselSites } from '../../../server/database/seed/port-ansel-sites'
import { NO_POLITENESS, type Asker } from '../../../server/targets/asker'
import { checkDestination } from '../../../server/targets/check'
import { SitesWorld, type SiteSetting } from '../../../standins/sites/world'

let sites: SitesWorld
beforeAll(async () => (sites = await SitesWorld.start()))
afterAll(() => sites.stop())

it('plays each kind of trouble for at least three destinations of its links', async () => {
  const all = portAnselSites()
  for (const site of all) sites.put(asItIs(site) as SiteSetting)
  const byHost = new Map(all.map((site) => [site.host, site]))
  const asker: Asker = {
    lookUp: (host) =>
      Promise.resolve(
        byHost.get(host)?.nameGone
          ? { ok: false, reason: 'no-name', text: 'gone' }
          : { ok: true, addresses: ['198.51.100.20'] },
      ),
    mayAsk: () => true,
    way: (_address, port) => ({ host: '127.0.0.1', port: port === 443 ? sites.httpsPort : sites.httpPort }),
    turns: NO_POLITENESS,
    trust: createSecureContext({ ca: sites.authority.pem }),
    userAgent: 'Fides',
    timeoutMs: 2500,
  }
  const troubled = new Set(
    portAnselLinks()
      .filter(({ standing }) => standing === 'live')
      .map(({ destination }) => destination)
      .filter((destination) => {
        const { hostname, pathname } = new URL(destination)
        return Object.keys(byHost.get(hostname)?.since ?? {}).some((path) => pathname.startsWith(path))
      }),
  )
  const limit = pLimit(8)
  const verdicts = await Promise.all(
    [...troubled].map((destination) =>
      limit(async () => judge((await checkDestination(asker, destination)).evidence).verdict),
    ),
  )
  const count = (verdict: VerdictName) => verdicts.filter((one) => one === verdict).length
  const few = VERDICT_NAMES.filter((verdict) => verdict !== 'sound' && count(verdict) < 3)
  expect(few, JSON.stringify(Object.fromEntries(VERDICT_NAMES.map((name) => [name, count(name)])))).toEqual([])
})
