import { portAnselLinks } from './port-ansel'
import { CYCLES, FERRY, LIVE, WWW } from './port-ansel-links'

/** A stand-in site of the demo world, as `standins/sites` takes it. */
export interface DemoSite {
  host: string
  title: string
  pages: Record<string, string>
  plays: Record<string, string>
  moves: Record<string, { status: number; to: string }>
  certificate?: string
  sitemap?: string
  /** No name server knows it any more. */
  nameGone?: true
  /** Hours since it is as it is: until then it was well. */
  since: Record<string, number>
}

const hostOf = (url: string) => new URL(url).hostname
const TITLES: Record<string, string> = {
  [hostOf(WWW)]: 'Port Ansel Transit',
  [hostOf(LIVE)]: 'Port Ansel live',
  [hostOf(FERRY)]: 'Harbour Ferries',
  [hostOf(CYCLES)]: 'Port Ansel Cycles',
}

/** What goes wrong where: host, path, what the site plays there, and for how many hours by now. */
const TROUBLES: readonly [host: string, path: string, plays: string, hours: number][] = [
  [hostOf(WWW), '/night-network/map.pdf', 'not-found', 30],
  [hostOf(WWW), '/fares/single', 'gone', 200],
  [hostOf(WWW), '/projects/lifts', 'not-found', 75],
  [hostOf(WWW), '/tariff', 'front-page', 96],
  [hostOf(WWW), '/help/lost-property/found', 'front-page', 51],
  ['events.portansel.example', '/regatta-2026', 'front-page', 140],
  ['trammuseum.example', '/', 'disguised', 62],
  ['media.portansel.example', '/photographs', 'disguised-in-words', 26],
  ['harbourfest.example', '/', 'parked', 310],
  ['riderquiz.example', '/', 'parked', 190],
  ['tramrun.example', '/', 'parked', 84],
  ['careers.portansel.example', '/openings', 'sign-in-host', 44],
  ['careers.portansel.example', '/drivers', 'soft-sign-in', 44],
  ['media.portansel.example', '/releases/latest', 'ask-access', 19],
  ['apps.storefront.example', '/port-ansel-transit', 'robot-wall', 120],
  ['tickets.portanseltransit.example', '/school-pass', 'legal', 33],
  ['data.portanseltransit.example', '/', 'server-error', 9],
  ['tickets.portanseltransit.example', '/ansel-card', 'maintenance', 7],
  [hostOf(CYCLES), '/help', 'server-error', 12],
  ['post.portansel.example', '/subscribe', 'reset', 15],
  ['events.portansel.example', '/job-fair', 'wrong-length', 22],
  ['parking.portansel.example', '/harbour', 'hanging', 11],
  [hostOf(WWW), '/park-and-ride', 'loop', 40],
  [hostOf(WWW), '/visit/administration', 'loop', 40],
  [hostOf(FERRY), '=/', 'parameters-dropped', 58],
  [hostOf(FERRY), '/via', 'parameters-dropped', 58],
  [hostOf(FERRY), '/end', 'parameters-dropped', 58],
  ['visit.portansel.example', '/places/ropewalk', 'parameters-dropped', 100],
  [hostOf(CYCLES), '/hire', 'downgrade', 70],
  [hostOf(LIVE), '/lifts', 'downgrade', 28],
]

const CERTIFICATES: readonly [host: string, kind: string, hours: number][] = [
  ['quaychoir.example', 'expired', 216],
  ['fishmarket.example', 'wrong-host', 37],
  ['harbourlibrary.example', 'self-signed', 66],
]

const NAMES_GONE: readonly [host: string, hours: number][] = [
  ['nightwalks.example', 130],
  ['pierfour.example', 52],
  ['ferrycat.example', 21],
]

/** Lines that got pages of another name, with a redirect left behind, and what is elsewhere for a while. */
const MOVES: readonly [path: string, to: string, status: number, hours: number][] = [
  ...[41, 42, 43, 44, 45].map((line): [string, string, number, number] => [
    `/lines/${line}`,
    `/routes/${line}`,
    301,
    24 * 20,
  ]),
  ...[51, 52, 53].map((line): [string, string, number, number] => [
    `/lines/${line}`,
    `/lines/winter/${line}`,
    302,
    24 * 45,
  ]),
]

/** Works that moved to another folder without a word. */
const MOVED_WORKS = { from: '/service-changes/', to: '/changes/', every: 5, hours: 48 }

/** Pages nobody’s short address leads to yet. */
const MORE: Record<string, Record<string, string>> = {
  [hostOf(WWW)]: {
    '/': 'Port Ansel Transit',
    '/night-network/': 'Night network',
    '/night-network/map-2027.pdf': 'Map of the night network, 2027',
    '/fares/': 'Fares',
    '/fares/single-tickets': 'Single tickets',
    '/fares/tariff-2027': 'Tariff of 2027',
    '/projects/': 'Projects',
    '/projects/lift-renewal': 'Lift renewal programme',
    '/help/': 'Help',
    '/help/found-something': 'Something found',
    '/offers': 'Offers',
    '/over': 'This is over',
  },
}

/** The web of the demo: a page for each destination of its links, and what has gone wrong with some. */
export function portAnselSites(): DemoSite[] {
  const sites = new Map<string, DemoSite>()
  const site = (host: string) => {
    const known = sites.get(host)
    if (known) return known
    const made: DemoSite = {
      host,
      title: TITLES[host] ?? host.split('.')[0]!.replace(/^./, (letter) => letter.toUpperCase()),
      pages: { '/': TITLES[host] ?? 'Welcome', ...MORE[host] },
      plays: {},
      moves: {},
      since: {},
    }
    sites.set(host, made)
    return made
  }
  for (const { destination, title } of portAnselLinks()) {
    const url = new URL(destination)
    if (url.pathname !== '/') site(url.hostname).pages[url.pathname] = title
    else site(url.hostname)
  }
  for (const [host, path, plays, hours] of TROUBLES) {
    site(host).plays[path] = plays
    site(host).since[path.replace(/^=/, '')] = hours
  }
  for (const [host, certificate, hours] of CERTIFICATES)
    Object.assign(site(host), { certificate, since: { '/': hours } })
  for (const [host, hours] of NAMES_GONE) Object.assign(site(host), { nameGone: true, since: { '/': hours } })
  const main = site(hostOf(WWW))
  for (const [path, to, status, hours] of MOVES) {
    main.moves[path] = { status, to }
    main.pages[to] = main.pages[path] ?? 'A line'
    main.since[path] = hours
  }
  const works = Object.keys(main.pages).filter((path) => path.startsWith(MOVED_WORKS.from))
  works
    .filter((_, index) => index % MOVED_WORKS.every === 0)
    .forEach((path) => {
      main.pages[MOVED_WORKS.to + path.slice(MOVED_WORKS.from.length)] = main.pages[path]!
      main.plays[path] = 'not-found'
      main.since[path] = MOVED_WORKS.hours
    })
  main.sitemap = 'index'
  site('login.portansel.example').plays['/'] = 'soft-sign-in'
  return [...sites.values()]
}

/** A site as it was before anything went wrong. */
export const asItWas = (site: DemoSite): DemoSite => ({ ...site, plays: {}, moves: {}, certificate: undefined })

/** A site as it is: what is played as missing is not listed either. */
export function asItIs(site: DemoSite): DemoSite {
  const missing = new Set(
    Object.entries(site.plays)
      .filter(([, plays]) => ['not-found', 'gone', 'front-page'].includes(plays))
      .map(([path]) => path),
  )
  return {
    ...site,
    pages: Object.fromEntries(
      Object.entries(site.pages).filter(([path]) => !missing.has(path) && site.moves[path] === undefined),
    ),
  }
}
