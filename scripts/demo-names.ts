// The demo's outside world: which names there are, where they are reached on loopback, and how their zones stand.
import { z } from 'zod'
import { readEnvironment } from '../environment/read'
import { workerVariables } from '../environment/variables'
import type { Database } from '../server/database/open'
import { HOSTS } from '../server/database/seed/port-ansel-links'
import { makeNamesContext } from '../server/names/context'
import { putZone } from '../server/usecases/domains/bring-zone'
import { pushPlan } from '../server/usecases/domains/push-records'
import { setUpdateKey } from '../server/usecases/domains/update-key'
import { ROOT_ADDRESS } from '../standins/names/world'
import type { requirePorts } from './ports'
import { authorityFile, fillPastChecks, siteNames, sitePorts, SITES_ADDRESS, startSites } from './demo-sites'
import { untilAnswers } from './processes'
import type { System } from './system'

const TTL_SPEED = 10
const KEY_NAME = 'desk-key'
const GATEWAY_NAME = 'links.portanseltransit.example'
const GATEWAY_ADDRESSES = ['192.0.2.80', '2001:db8::80'] as const
const OLD_WEBSITE = '198.51.100.7'
const NAME_SERVERS = ['192.0.2.53', '198.51.100.53'] as const
const ISSUER = 'ca.example'

const { FIDES_NAMES_PORT: base } = readEnvironment(
  z.object({
    FIDES_NAMES_PORT: z.coerce
      .number('must be a port number')
      .int()
      .min(1024, 'must be a port from 1024 to 65000')
      .max(65_000, 'must be a port from 1024 to 65000')
      .default(5300),
  }),
)
const AUTHORITY_PORTS = [base, base + 1]
const RESOLVER_PORTS = [base + 10, base + 11, base + 12, base + 13]
const CONTROL_PORT = base + 20
const WEBSITE_PORT = base + 30
const SITE_PORTS = sitePorts(base)
/** Where the front and its authority are, where the machine has them. */
export const FRONT_PORTS = { http: base + 50, https: base + 51, authority: base + 52, management: base + 53 }

/** Where the mailbox takes mail, and shows it. */
const MAIL_PORTS = { smtp: base + 60, web: base + 61 }
export const MAILBOX_ADDRESS = `http://127.0.0.1:${MAIL_PORTS.web}`

/** The ports the outside world takes. */
export const OUTSIDE_PORTS: Parameters<typeof requirePorts>[0] = [
  ...AUTHORITY_PORTS,
  ...RESOLVER_PORTS,
  CONTROL_PORT,
  WEBSITE_PORT,
  ...Object.values(SITE_PORTS),
  ...Object.values(FRONT_PORTS),
  ...Object.values(MAIL_PORTS),
].map((port) => ({ port, use: 'the demo’s outside world', variable: 'FIDES_NAMES_PORT' }))

/** A front that speaks TLS for the demo's domains: whom desk and worker trust for it, and what else they are told. */
export interface DemoFront {
  trusted: string
  environment: Record<string, string>
}

/** What the desk is told of the outside world: addresses nobody has, led to loopback. */
export function outsideEnvironment(system: System, front?: DemoFront): Record<string, string> {
  const gateway = `127.0.0.1:${front ? FRONT_PORTS.http : system.settings.FIDES_GATEWAY_PORT}`
  // Without a front nothing speaks TLS for the short domains.
  const secure = `127.0.0.1:${front ? FRONT_PORTS.https : 1}`
  const detours = [
    `${ROOT_ADDRESS}:53=127.0.0.1:${AUTHORITY_PORTS[0]}`,
    ...NAME_SERVERS.map((address, index) => `${address}:53=127.0.0.1:${AUTHORITY_PORTS[index]}`),
    `${GATEWAY_ADDRESSES[0]}:80=${gateway}`,
    `[${GATEWAY_ADDRESSES[1]}]:80=${gateway}`,
    `${OLD_WEBSITE}:80=127.0.0.1:${WEBSITE_PORT}`,
    `203.0.113.66:80=127.0.0.1:${WEBSITE_PORT}`,
    `${SITES_ADDRESS}:80=127.0.0.1:${SITE_PORTS.http}`,
    `${SITES_ADDRESS}:443=127.0.0.1:${SITE_PORTS.https}`,
    `${GATEWAY_ADDRESSES[0]}:443=${secure}`,
    `[${GATEWAY_ADDRESSES[1]}]:443=${secure}`,
    `${OLD_WEBSITE}:443=127.0.0.1:1`,
  ]
  return {
    FIDES_PUBLIC_NAME: GATEWAY_NAME,
    FIDES_PUBLIC_ADDRESSES: GATEWAY_ADDRESSES.join(','),
    FIDES_CERTIFICATE_ISSUERS: ISSUER,
    NODE_EXTRA_CA_CERTS: front?.trusted ?? authorityFile(system),
    FIDES_TTL_SPEED: String(TTL_SPEED),
    FIDES_WATCH_SECONDS: '20',
    FIDES_RESOLVERS: RESOLVER_PORTS.map(
      (port, index) => `Resolver ${String.fromCharCode(65 + index)}=127.0.0.1:${port}`,
    ).join(','),
    FIDES_DETOURS: detours.join(','),
    FIDES_SMTP_URL: `smtp://127.0.0.1:${MAIL_PORTS.smtp}`,
    FIDES_MAIL_FROM: 'Port Ansel Transit <links@portansel.example>',
    FIDES_DESK_ADDRESS: system.adminAddress,
    FIDES_NOTICE_SECONDS: '5',
    ...front?.environment,
  }
}

/** The key with which the demo's name servers take updates: base64, made once. */
const updateSecret = (system: System) => Buffer.from(system.secret('names-key'), 'hex').toString('base64')

/** Starts the name servers, resolvers and the old website, and waits until they answer. */
export async function startOutside(system: System): Promise<void> {
  system.start('names', ['dist/names.mjs'], {
    FIDES_NAMES_AUTHORITIES: AUTHORITY_PORTS.join(','),
    FIDES_NAMES_RESOLVERS: RESOLVER_PORTS.join(','),
    FIDES_NAMES_CONTROL_PORT: String(CONTROL_PORT),
    FIDES_TTL_SPEED: String(TTL_SPEED),
    FIDES_NAMES_KEY: `${KEY_NAME}=${Buffer.from(updateSecret(system), 'base64').toString('base64url')}`,
  })
  system.start('website', ['dist/website.mjs'], { FIDES_OLD_WEBSITE_PORT: String(WEBSITE_PORT) })
  await untilAnswers(`http://127.0.0.1:${CONTROL_PORT}/`, 20_000, async () => true)
  await untilAnswers(`http://127.0.0.1:${WEBSITE_PORT}/`)
  system.start('mailbox', ['dist/mailbox.mjs'], {
    FIDES_MAILBOX_SMTP_PORT: String(MAIL_PORTS.smtp),
    FIDES_MAILBOX_PORT: String(MAIL_PORTS.web),
  })
  await untilAnswers(MAILBOX_ADDRESS)
  await startSites(system, SITE_PORTS)
}

/** Lets the destinations of the demo's links have been checked before. */
export const checkedBefore = (system: System, db: Database): Promise<void> =>
  fillPastChecks(system, db, namesOf(system), SITE_PORTS, system.print)

const namesOf = (system: System) =>
  makeNamesContext(workerVariables.parse({ ...system.environment(), ...outsideEnvironment(system) }))

/**
 * Brings the domains as their owner would: the name server's key for those whose zone it may change, and for
 * rider.example the zone file and the plan's records pushed, so that it is seen spreading.
 */
export async function bringDomains(system: System, db: Database): Promise<void> {
  const names = namesOf(system)
  const admin = { memberId: 1, name: 'Ines Caldwell', role: 'administrator' as const }
  const key = { server: NAME_SERVERS[0], name: `${KEY_NAME}.`, secret: updateSecret(system) }
  for (const host of [HOSTS.coming, HOSTS.beside, HOSTS.cycles, HOSTS.lost]) {
    const domain = await db.Domain.findOne({ where: { host } })
    if (domain && !(await db.UpdateKey.findByPk(domain.id)))
      await setUpdateKey(db, names, admin, Number(domain.id), key)
  }
  const rider = await db.Domain.findOne({ where: { host: HOSTS.coming } })
  if (!rider || (await db.DomainZone.findByPk(rider.id))) return
  await putZone(db, names, admin, Number(rider.id), Buffer.from(RIDER))
  await pushPlan(db, names, admin, Number(rider.id), 'all')
}

const top = (serial: number, origin: string) => `$ORIGIN ${origin}.
$TTL 3600
@       IN SOA ns1 hostmaster ( ${serial} 7200 900 1209600 900 )
        IN NS  ns1
        IN NS  ns2
ns1     IN A   ${NAME_SERVERS[0]}
ns2     IN A   ${NAME_SERVERS[1]}
`
const pointing = `@       IN A     ${GATEWAY_ADDRESSES[0]}
        IN AAAA  ${GATEWAY_ADDRESSES[1]}
`
const proof = (label: string, token: string) => `${label.padEnd(7)} IN TXT   "fides=${token}"\n`

/** Every zone of the demo as it stands when the demo begins. */
function zones(tokens: ReadonlyMap<string, string>): { origin: string; text: string; behind?: string }[] {
  const token = (host: string) => tokens.get(host) ?? 'none'
  const own = (host: string, records: string) => top(2026111501, host) + records + proof('_fides', token(host))
  const named = siteNames()
  const sites = (origin: string, but: readonly string[] = []) =>
    (named.get(origin) ?? [])
      .filter((label) => !but.includes(label))
      .map((label) => `${label.padEnd(7)} IN A     ${SITES_ADDRESS}\n`)
      .join('')
  const ours = ['portanseltransit.example', 'portansel.example']
  return [
    ...[...named.keys()]
      .filter((origin) => !ours.includes(origin))
      .map((origin) => ({ origin, text: top(2026101001, origin) + sites(origin) })),
    {
      origin: 'portanseltransit.example',
      text:
        `${top(2026100301, 'portanseltransit.example')}www     IN A     198.51.100.20\nlive    IN CNAME ` +
        `www\n; The front of the short addresses.\nlinks   IN A     ${GATEWAY_ADDRESSES[0]}\n        IN AAAA ` +
        ` ${GATEWAY_ADDRESSES[1]}\n${sites('portanseltransit.example', ['www', 'live'])}`,
    },
    { origin: 'ca.example', text: top(1, 'ca.example') },
    { origin: 'ansl.example', text: own('ansl.example', `${pointing}        IN CAA   0 issue "${ISSUER}"\n`) },
    // The website's people let another issuer in and forgot the short addresses beside it.
    {
      origin: 'portansel.example',
      text:
        `${top(2026112001, 'portansel.example')}@       IN A     198.51.100.20\n        IN MX    10 mail\n   ` +
        `     IN CAA   0 issue "other-ca.example"\nmail    IN A     198.51.100.25\nwww     IN CNAME @\ngo    ` +
        `  IN CNAME ${GATEWAY_NAME}.\n${sites('portansel.example')}${proof('_fides.go', token(HOSTS.beside))}`,
    },
    { origin: 'rider.example', text: RIDER },
    {
      origin: 'ferries.example',
      text: own('ferries.example', pointing),
      behind: own('ferries.example', `@       IN A     203.0.113.66\n`),
    },
    { origin: 'cycles.example', text: own('cycles.example', '@       IN A     203.0.113.66\n') },
    { origin: 'lost.example', text: own('lost.example', 'www     IN CNAME @\n') },
  ]
}

/** The zone of the domain that is being switched over: a website and mail stand on its name. */
const RIDER = `${top(2026111804, 'rider.example')}; Website of the rider survey, at the agency.
@       IN A     ${OLD_WEBSITE}
        IN MX    10 mail
mail    IN A     198.51.100.25
www     IN CNAME @
; Letters to the panel are signed.
panel._domainkey IN TXT "v=DKIM1; k=rsa; p=MIIBIjANBgkqhkiG9w0BAQEFAAOCAQ8A"
`

async function tellSwitchboard(method: string, path: string, body: string): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${CONTROL_PORT}${path}`, { method, body })
  if (!response.ok)
    throw new Error(`the stand-in names answered ${response.status} to ${path}: ${await response.text()}`)
}

/**
 * Lays the zones out, as our own pushes left those we pushed to, and has the resolvers hold what the old website's
 * visitors asked for.
 */
export async function layOutZones(db: Database): Promise<void> {
  const domains = await db.Domain.findAll()
  const pushed = new Map(
    (await db.DomainZone.findAll())
      .filter((zone) => zone.pushedText !== null)
      .map((zone) => [zone.origin.slice(0, -1), zone.pushedText!.toString('latin1')]),
  )
  for (const { origin, text, behind } of zones(new Map(domains.map((domain) => [domain.host, domain.proofToken])))) {
    await tellSwitchboard('PUT', `/authorities/1/zones/${origin}`, pushed.get(origin) ?? text)
    if (behind && !pushed.has(origin)) await tellSwitchboard('PUT', `/authorities/2/zones/${origin}`, behind)
  }
  // Two resolvers keep answers for a shorter time than they may, and nobody asked the first one lately.
  await tellSwitchboard('PUT', '/resolvers/3/faults', JSON.stringify({ cap: 1800 }))
  await tellSwitchboard('PUT', '/resolvers/4/faults', JSON.stringify({ cap: 600 }))
  if (!pushed.has('rider.example'))
    await tellSwitchboard(
      'POST',
      '/prime',
      JSON.stringify({ hosts: ['rider.example'], types: ['A', 'AAAA'], resolvers: [2, 3, 4] }),
    )
}
