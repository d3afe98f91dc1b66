import { seeded } from './chance'
import { APEX, BESIDE, COMING, CYCLES, HOSTS, LIVE, SPARE, WWW, type DemoLink, type Hand } from './port-ansel-links'

const QUAYS = [
  'Custom House',
  'Saltgate',
  'Lantern Hill',
  'Ropewalk',
  'Fish Market',
  'Old Mint',
  'Beacon Street',
  'Tidewater',
  'Gullwing',
  'Chandlers Row',
  'Orchard Rise',
  'Mill Basin',
  'Harbour Cross',
  'Observatory',
  'Cable Street',
  'Weavers Green',
  'North Mole',
  'Signal Point',
  'Foundry Lane',
  'Terrace Gardens',
]
const SIDES = ['', ' (north side)', ' (south side)', ' (stand A)', ' (stand B)', ' East', ' West', ' Upper', ' Lower']
const WORKS = [
  'track works',
  'bridge closure',
  'street market',
  'marathon',
  'water main repair',
  'film shoot',
  'parade',
  'crane move',
]

/** The 1,200 links of Port Ansel Transit, the same for the same seed. */
export function portAnselLinks(seed = 4117): DemoLink[] {
  const random = seeded(seed)
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
  const between = (low: number, high: number) => low + Math.floor(random() * (high - low + 1))
  const links = new Map<string, DemoLink>()

  const add = (host: string, slug: string, title: string, destination: string, more: Partial<DemoLink> = {}) => {
    // Capitals matter on the domain beside the website.
    const key = `${host}/${host === HOSTS.beside ? slug : slug.toLowerCase()}`
    if (links.has(key)) return
    links.set(key, {
      host,
      slug,
      title,
      destination,
      status: 302,
      query: 'discard',
      tags: [],
      owner: 'Passenger information',
      note: '',
      weight: 0.05 + random() ** 4 * 3,
      madeAgo: between(100, 900),
      startsAgo: null,
      endsAgo: null,
      standing: 'live',
      endedDestination: null,
      earlier: [],
      ...more,
    })
  }
  const addByHand = (host: string, rows: Hand[]) => {
    for (const [slug, title, destination, status, owner, tags, weight, note = ''] of rows) {
      add(host, slug, title, destination, {
        status,
        owner,
        tags,
        weight,
        note,
        query: destination.includes('?') || random() < 0.3 ? 'carry' : 'discard',
        madeAgo: between(300, 900),
        earlier:
          random() < 0.6
            ? [
                {
                  destination: destination.replace(/\/[^/]*$/, `/archive-${between(2023, 2025)}`),
                  until: between(20, 260),
                },
              ]
            : [],
      })
    }
  }
  addByHand(HOSTS.apex, APEX)
  addByHand(HOSTS.beside, BESIDE)
  addByHand(HOSTS.coming, COMING)

  for (let line = 1; line <= 60; line++) {
    add(HOSTS.apex, `line/${line}`, `Line ${line}, ${pick(QUAYS)} – ${pick(QUAYS)}`, `${WWW}/lines/${line}`, {
      status: 307,
      tags: line > 48 ? ['night-bus'] : [],
      weight: 1 + random() * 6,
    })
  }
  for (let night = 1; night <= 14; night++) {
    add(HOSTS.apex, `night/N${night}`, `Night line N${night}`, `${WWW}/night-network/n${night}`, {
      status: 307,
      tags: ['night-bus', 'stop-posters'],
      owner: 'Passenger information',
      weight: 2 + random() * 5,
    })
  }
  // Promotions of seasons past: ended, or led on to what came after.
  for (const year of [2022, 2023, 2024, 2025]) {
    for (const season of ['spring', 'summer', 'autumn', 'winter']) {
      const ago = (2026 - year) * 365 + { spring: 200, summer: 110, autumn: 40, winter: -20 }[season]!
      add(
        HOSTS.apex,
        `${season}${year % 100}`,
        `${season[0]!.toUpperCase()}${season.slice(1)} offers ${year}`,
        `${WWW}/offers/${year}/${season}`,
        {
          owner: 'Fares office',
          tags: [`offers-${year}`],
          madeAgo: ago + 120,
          endsAgo: Math.max(8, ago),
          weight: 0.6,
          query: 'carry',
          endedDestination: random() < 0.5 ? `${WWW}/offers` : null,
        },
      )
    }
  }
  for (let number = 0; links.size < 210; number++) {
    const quay = pick(QUAYS)
    const work = pick(WORKS)
    const ahead = random() < 0.3
    add(
      HOSTS.apex,
      `works/${quay.toLowerCase().replace(/ /g, '-')}-${between(1, 60)}`,
      `${quay}: ${work}`,
      `${WWW}/service-changes/${1400 + number}`,
      {
        tags: ['service-changes'],
        query: random() < 0.2 ? 'carry' : 'discard',
        madeAgo: between(1, 90),
        startsAgo: ahead && random() < 0.5 ? -between(2, 40) : null,
        endsAgo: ahead ? -between(45, 120) : random() < 0.6 ? between(1, 60) : null,
        weight: 0.4,
      },
    )
  }
  const apexCount = () => [...links.values()].filter((link) => link.host === HOSTS.apex).length
  for (let stop = 4001; apexCount() < 868; stop += 1 + Math.floor(random() * 3)) {
    add(HOSTS.apex, `stop/${stop}`, `Stop ${stop}, ${pick(QUAYS)}${pick(SIDES)}`, `${LIVE}/departures?stop=${stop}`, {
      tags: ['stop-posters'],
      owner: 'Passenger information',
      weight: stop === 4417 ? 105 : 0.1 + random() ** 5 * 12,
      madeAgo: between(200, 900),
      note: random() < 0.05 ? 'Poster moved to the new shelter; code unchanged.' : '',
    })
  }
  for (let dock = 1; dock <= 180; dock++) {
    add(
      HOSTS.beside,
      `bike/${String(dock).padStart(3, '0')}`,
      `Cycle dock ${dock}, ${pick(QUAYS)}`,
      `${CYCLES}/docks/${dock}`,
      {
        tags: ['cycle-hire', 'partners'],
        owner: 'Cycle hire',
        weight: 0.1 + random() ** 4 * 4,
        status: random() < 0.12 ? 308 : 302,
      },
    )
  }
  for (let count = 0; [...links.values()].filter((link) => link.host === HOSTS.beside).length < 311; count++) {
    const quay = pick(QUAYS)
    add(
      HOSTS.beside,
      `visit/${quay.toLowerCase().replace(/ /g, '-')}-${between(1, 40)}`,
      `Around ${quay} (${count + 1})`,
      `https://visit.portansel.example/places/${quay.toLowerCase().replace(/ /g, '-')}?ref=transit-${count}`,
      {
        owner: 'Press office',
        tags: ['partners'],
        query: random() < 0.4 ? 'carry' : 'discard',
        status: pick([301, 302, 302, 303, 307]),
      },
    )
  }
  for (let wave = 1; links.size < 1200; wave++) {
    add(
      HOSTS.coming,
      `survey/${wave}`,
      `Rider survey, wave ${wave}`,
      `https://forms.civicpanel.example/s/w${wave}-2027`,
      { tags: ['survey'], madeAgo: between(2, 30), weight: 0 },
    )
  }
  for (const [host, rows] of Object.entries(SPARE))
    for (const [slug, title, destination, weight] of rows)
      add(host, slug, title, destination, { weight, madeAgo: 200, status: 307 })

  const all = [...links.values()]
  // A few links that a person decided about.
  const plain = all.filter(
    (link) => link.endsAgo === null && link.startsAgo === null && link.weight < 3 && link.host !== HOSTS.coming,
  )
  for (let index = 0; index < 9; index++) plain[index * 37 + 5]!.standing = 'paused'
  for (let index = 0; index < 14; index++) plain[index * 31 + 11]!.standing = 'ended'
  for (let index = 0; index < 7; index++) plain[index * 53 + 17]!.standing = 'retired'
  return all
}
