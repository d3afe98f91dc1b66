/** One link of the demo world, before it is written. */
export interface DemoLink {
  host: string
  slug: string
  destination: string
  title: string
  status: 301 | 302 | 303 | 307 | 308
  query: 'discard' | 'carry'
  tags: string[]
  owner: string
  note: string
  /** How much of the crowd comes here, beside the other links. */
  weight: number
  /** Days before today: when it was made, and where it has them, its start and end (negative lies ahead). */
  madeAgo: number
  startsAgo: number | null
  endsAgo: number | null
  standing: 'live' | 'paused' | 'ended' | 'retired'
  endedDestination: string | null
  /** Earlier destinations, oldest first, with the days ago of the change away from each. */
  earlier: { destination: string; until: number }[]
}

export const HOSTS = {
  apex: 'ansl.example',
  beside: 'go.portansel.example',
  coming: 'rider.example',
  ferries: 'ferries.example',
  cycles: 'cycles.example',
  lost: 'lost.example',
} as const

export const WWW = 'https://www.portanseltransit.example'
export const LIVE = 'https://live.portanseltransit.example'
export const FERRY = 'https://harbourferries.example'
export const CYCLES = 'https://cycles.portansel.example'

/** Small domains of partners and services, with a few printed addresses each. */
export const SPARE: Record<string, [slug: string, title: string, destination: string, weight: number][]> = {
  [HOSTS.ferries]: [
    ['times', 'Ferry times', `${FERRY}/timetable`, 9],
    ['quays', 'Where the ferries land', `${FERRY}/quays`, 4],
    ['tickets', 'Ferry tickets', `${FERRY}/tickets`, 6],
  ],
  [HOSTS.cycles]: [
    ['hire', 'Hire a cycle', `${CYCLES}/hire`, 7],
    ['docks', 'Find a dock', `${CYCLES}/docks`, 5],
    ['help', 'Help with a cycle', `${CYCLES}/help`, 2],
  ],
  [HOSTS.lost]: [
    ['report', 'Report something lost', `${WWW}/lost-property/report`, 5],
    ['found', 'Something found', `${WWW}/lost-property/found`, 2],
  ],
}

/** A link made by hand: those of the scenario, each with its facts. */
export type Hand = [
  slug: string,
  title: string,
  destination: string,
  status: DemoLink['status'],
  owner: string,
  tags: string[],
  weight: number,
  note?: string,
]

export const APEX: Hand[] = [
  [
    'fares',
    'Fares and tickets',
    `${WWW}/fares/2027`,
    307,
    'Fares office',
    ['fares-2027', 'stop-posters'],
    330,
    'Season page; the fares office moves it each January.',
  ],
  [
    'night',
    'Night network map',
    `${WWW}/night-network/map.pdf`,
    307,
    'Passenger information',
    ['night-bus', 'stop-posters'],
    138,
    'PDF is replaced each season; ask the map desk for the new name.',
  ],
  [
    'app',
    'The Port Ansel app',
    'https://apps.storefront.example/port-ansel-transit',
    307,
    'Passenger information',
    ['stop-posters'],
    94,
  ],
  ['bike', 'Hire a cycle', `${CYCLES}/hire/start`, 307, 'Cycle hire', ['cycle-hire', 'partners'], 36],
  [
    'strike',
    'Service during industrial action',
    `${WWW}/service/industrial-action`,
    307,
    'Passenger information',
    ['service-changes'],
    21,
  ],
  [
    'tariff',
    'Tariff of 2024',
    `${WWW}/tariff`,
    301,
    'Fares office',
    ['print-2024'],
    14,
    'On the printed tariff books; keep permanently.',
  ],
  ['access', 'Step-free travel', `${WWW}/accessibility`, 307, 'Passenger information', ['stop-posters'], 13],
  [
    'school',
    'School travel pass',
    'https://tickets.portanseltransit.example/school-pass',
    302,
    'Fares office',
    ['fares-2027'],
    12,
  ],
  [
    'regatta',
    'Regatta weekend',
    'https://events.portansel.example/regatta-2026',
    302,
    'Passenger information',
    ['events'],
    18,
  ],
  ['map', 'Network map', `${WWW}/maps/network.pdf`, 307, 'Map desk', ['stop-posters'], 58],
  ['times', 'Timetables', `${WWW}/timetables`, 307, 'Passenger information', ['stop-posters'], 61],
  ['refund', 'Refunds', `${WWW}/fares/refunds`, 302, 'Fares office', ['fares-2027'], 9],
  [
    'card',
    'The Ansel card',
    'https://tickets.portanseltransit.example/ansel-card',
    302,
    'Fares office',
    ['fares-2027'],
    27,
  ],
  ['help', 'Help and contact', `${WWW}/help`, 307, 'Passenger information', ['stop-posters'], 17],
  ['delay', 'Delays today', `${LIVE}/delays`, 307, 'Passenger information', ['service-changes'], 44],
  ['lift', 'Lifts out of service', `${LIVE}/lifts`, 307, 'Passenger information', ['service-changes'], 8],
  ['park-ride', 'Park and ride', `${WWW}/park-and-ride`, 302, 'Passenger information', [], 7],
  ['museum', 'Tram museum by bus', 'https://trammuseum.example/visit', 302, 'Press office', ['partners'], 4],
  ['open-data', 'Open data', 'https://data.portanseltransit.example/', 308, 'Press office', [], 3],
  [
    'winter',
    'Winter timetable',
    `${WWW}/timetables/winter-2026`,
    307,
    'Passenger information',
    ['service-changes'],
    26,
  ],
  // Made by several hands over the years, and at odds with each other by now.
  ['parkride', 'Park and ride tickets', `${WWW}/park-and-ride/tickets`, 302, 'Fares office', [], 3],
  ['fare', 'Single fare, flyer of 2023', `${WWW}/fares/single`, 302, 'Fares office', ['print-2024'], 4],
  ['lifts', 'Lift renewal programme', `${WWW}/projects/lifts`, 302, 'Press office', [], 3],
  [
    'cards',
    'Greeting cards of the tram museum',
    'https://trammuseum.example/shop/cards',
    302,
    'Press office',
    ['partners'],
    3,
  ],
  ['late', 'Delays, short form', `${LIVE}/delays`, 307, 'Passenger information', ['service-changes'], 5],
  [
    'getapp',
    'The app, from tickets',
    'https://apps.storefront.example/port-ansel-transit?utm_source=ticket',
    302,
    'Fares office',
    [],
    6,
  ],
  ['timetables', 'Timetables, from the annual report', `${WWW}/timetables`, 302, 'Press office', ['print-2024'], 3],
  ['boat', 'Ferries', 'https://go.portansel.example/ferry', 302, 'Harbour ferries desk', ['ferries'], 7],
  ['snow', 'Service in snow', 'https://ansl.example/winter', 307, 'Passenger information', ['service-changes'], 3],
  ['cycle', 'Hire a cycle', 'https://cycles.example/hire', 302, 'Cycle hire', ['cycle-hire'], 4],
  ['regatta-map', 'Regatta map', 'https://ansl.example/regatta-plan', 302, 'Press office', ['events'], 3],
  ['regatta-plan', 'Regatta plan', 'https://ansl.example/regatta-map', 302, 'Press office', ['events'], 3],
  // Partners and places that came and went.
  ['festival', 'Harbour festival', 'https://harbourfest.example/programme', 302, 'Press office', ['events'], 9],
  ['quiz', 'Rider quiz', 'https://riderquiz.example/start', 302, 'Press office', ['events'], 5],
  ['tram-run', 'Tram run', 'https://tramrun.example/register', 302, 'Press office', ['events'], 4],
  ['night-walks', 'Night walks', 'https://nightwalks.example/routes', 302, 'Press office', ['partners'], 6],
  ['pier-plan', 'Plans for Pier 4', 'https://pierfour.example/plans', 302, 'Press office', [], 4],
  ['ferry-cat', 'The ferry cat', 'https://ferrycat.example/diary', 302, 'Press office', [], 8],
  ['choir', 'Choir on the quay', 'https://quaychoir.example/concerts', 302, 'Press office', ['events'], 5],
  [
    'fish-hall',
    'Fish market by bus',
    'https://fishmarket.example/visit',
    302,
    'Passenger information',
    ['partners'],
    7,
  ],
  [
    'library',
    'Library by tram',
    'https://harbourlibrary.example/branches',
    302,
    'Passenger information',
    ['partners'],
    4,
  ],
  ['pass', 'Travel pass', 'https://go.portansel.example/passes', 302, 'Fares office', [], 3],
  ['annual', 'Annual report', 'https://ansl.example/annual', 302, 'Press office', [], 3],
]

export const BESIDE: Hand[] = [
  [
    'ferry',
    'Harbour ferries',
    `${FERRY}/?ref=pat-04`,
    302,
    'Harbour ferries desk',
    ['partners', 'ferries'],
    55,
    'The partner counts arrivals by ref; do not drop it.',
  ],
  ['lost', 'Lost property', `${WWW}/help/lost-property`, 301, 'Lost property', ['stop-posters'], 42],
  ['jobs', 'Working here', 'https://careers.portansel.example/openings', 308, 'People team', [], 16],
  ['press', 'Press releases', 'https://media.portansel.example/releases/latest', 302, 'Press office', [], 8],
  ['ferry-times', 'Ferry timetable', `${FERRY}/timetable`, 302, 'Harbour ferries desk', ['partners', 'ferries'], 19],
  ['pier-4', 'Pier 4 works', `${FERRY}/notices/pier-4`, 302, 'Harbour ferries desk', ['ferries', 'service-changes'], 6],
  ['drive', 'Become a driver', 'https://careers.portansel.example/drivers', 302, 'People team', [], 11],
  ['news', 'Newsletter', 'https://post.portansel.example/subscribe', 302, 'Press office', [], 5],
  ['passes', 'Travel passes', 'https://ansl.example/pass', 302, 'Fares office', [], 3],
  ['Jobs', 'Job fair', 'https://events.portansel.example/job-fair', 302, 'People team', ['events'], 3],
  ['Press', 'Press photographs', 'https://media.portansel.example/photographs', 302, 'Press office', [], 3],
  ['Drive', 'Park by the harbour', 'https://parking.portansel.example/harbour', 302, 'Passenger information', [], 3],
  ['admin', 'Administration building', `${WWW}/visit/administration`, 302, 'Press office', [], 3],
  ['lost_found', 'Lost and found', `${WWW}/help/lost-property/found`, 302, 'Lost property', [], 3],
  [
    'the-new-harbour-bus-and-ferry-interchange-at-custom-house',
    'Interchange at Custom House',
    `${WWW}/projects/interchange`,
    302,
    'Press office',
    [],
    3,
  ],
]

export const COMING: Hand[] = [
  [
    'survey',
    'Rider survey',
    'https://forms.civicpanel.example/s/9aKf20QxT',
    302,
    'Passenger information',
    ['survey'],
    0,
  ],
  [
    'panel',
    'Join the rider panel',
    'https://forms.civicpanel.example/panel/join',
    302,
    'Passenger information',
    ['survey'],
    0,
  ],
  ['prize', 'Prize draw rules', `${WWW}/survey/prize-draw`, 302, 'Press office', ['survey'], 0],
]
