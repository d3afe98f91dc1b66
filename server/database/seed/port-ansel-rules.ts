import type { RuleRow } from '../../../core/rows'
import { HOSTS } from './port-ansel-links'

const WWW = 'https://www.portanseltransit.example'
const LIVE = 'https://live.portanseltransit.example'
const CYCLES = 'https://cycles.portansel.example'

/** A rule of the demo world, before it is written; `weight` as a link's. */
export interface DemoRule
  extends Pick<RuleRow, 'syntax' | 'pattern' | 'destination' | 'status'>, Partial<Pick<RuleRow, 'condition'>> {
  host: string
  title: string
  note?: string
  active?: boolean
}

const path = (
  host: string,
  pattern: string,
  destination: string,
  title: string,
  more: Partial<DemoRule> = {},
): DemoRule => ({ host, syntax: 'path', pattern, destination, title, status: 302, ...more })

/** The rules of Port Ansel Transit, in their order. */
export const PORT_ANSEL_RULES: readonly DemoRule[] = [
  path(HOSTS.apex, '/stop/:id(\\d+)', `${LIVE}/departures?stop={id}`, 'Stops without their own link', {
    status: 307,
    note: 'New stops work before anybody makes a link.',
  }),
  path(HOSTS.apex, '/archive/*', `${WWW}/archive/{+0}`, 'Old timetables'),
  path(HOSTS.apex, '/archive/:year(\\d{4})/map', `${WWW}/maps/archive/{year}.pdf`, 'Old network maps'),
  path(HOSTS.apex, '/works/:place', `${WWW}/service-changes/at/{place}`, 'Works by place'),
  path(HOSTS.apex, '/*.pdf', `${WWW}/documents/{+0}.pdf`, 'Printed documents by name', {
    note: 'On the imprint of every leaflet since 2021.',
  }),
  path(HOSTS.apex, '/line/:line/:view(map|times|fares)', `${WWW}/lines/{line}/{view}`, 'Pages of a line', {
    status: 307,
  }),
  path(HOSTS.apex, '/line/:line/map', `${WWW}/maps/lines/{line}`, 'Map of a line'),
  {
    host: HOSTS.apex,
    syntax: 'expression',
    pattern: '/(?:zone|z)(?P<zone>[1-6])(?:/.*)?',
    destination: `${WWW}/fares/zones/{zone}`,
    title: 'Fare zones',
    status: 302,
  },
  path(HOSTS.apex, '/find', `${WWW}/search`, 'Search', {
    active: false,
    condition: [{ kind: 'query', mode: 'contains', text: 'line' }],
  }),
  path(HOSTS.beside, '/bike/:dock', `${CYCLES}/docks/{dock}`, 'Docks without their own link'),
  path(HOSTS.beside, '/visit/:place', 'https://visit.portansel.example/places/{place}', 'Places by name'),
  path(HOSTS.beside, '/pier/*', 'https://harbourferries.example/piers/{+0}', 'Piers'),
  path(
    HOSTS.beside,
    '/pier/:number(\\d+)',
    'https://harbourferries.example/notices/pier-{number}',
    'Notices of a pier',
  ),
]

/** Addresses people use that only rules serve, and how many of the crowd come there. */
export const RULED_ADDRESSES: readonly [host: string, slug: string, weight: number][] = [
  [HOSTS.apex, 'stop/7012', 6],
  [HOSTS.apex, 'stop/7020', 4],
  [HOSTS.apex, 'stop/9001', 2],
  [HOSTS.apex, 'archive/2024/summer', 3],
  [HOSTS.apex, 'leaflet-12.pdf', 5],
  [HOSTS.apex, 'tariff-2024.pdf', 4],
  [HOSTS.apex, 'line/7/map', 8],
  [HOSTS.apex, 'line/12/times', 6],
  [HOSTS.apex, 'zone3', 7],
  [HOSTS.apex, 'works/new-quay', 2],
  [HOSTS.beside, 'bike/204', 5],
  [HOSTS.beside, 'pier/2', 3],
]

/**
 * Where short addresses were put: medium, place, copies, and whether it can be changed; by what the slug begins with.
 */
export const PORT_ANSEL_PLACEMENTS: readonly {
  host: string
  slug: RegExp
  medium: string
  place: string
  copies: number
  changeable: boolean
}[] = [
  { host: HOSTS.apex, slug: /^fares$/, medium: 'Stop poster', place: 'Every stop', copies: 4200, changeable: false },
  {
    host: HOSTS.apex,
    slug: /^fares$/,
    medium: 'Ticket, back',
    place: 'All machines',
    copies: 900_000,
    changeable: false,
  },
  {
    host: HOSTS.apex,
    slug: /^(night|map|times|app|access|help)$/,
    medium: 'Stop poster',
    place: 'Every stop',
    copies: 4200,
    changeable: false,
  },
  {
    host: HOSTS.apex,
    slug: /^(fare|tariff)$/,
    medium: 'Tariff book',
    place: 'Sold at counters',
    copies: 12_000,
    changeable: false,
  },
  { host: HOSTS.apex, slug: /^stop\/44/, medium: 'Stop sign', place: 'At the stop', copies: 2, changeable: false },
  { host: HOSTS.apex, slug: /^(delay|late)$/, medium: 'Screen', place: 'Vehicles', copies: 640, changeable: true },
  {
    host: HOSTS.beside,
    slug: /^(jobs|Jobs)$/,
    medium: 'Bus rear',
    place: 'Twenty buses',
    copies: 20,
    changeable: false,
  },
  {
    host: HOSTS.beside,
    slug: /^(press|news)$/,
    medium: 'Letterhead',
    place: 'Press office',
    copies: 5000,
    changeable: false,
  },
  {
    host: HOSTS.beside,
    slug: /^Press$/,
    medium: 'Leaflet',
    place: 'Exhibition of 2025',
    copies: 800,
    changeable: false,
  },
]
