import { makeMisses } from './misses'

/** What the crowd needs to know of a link: nothing a passer-by could not read off a poster. */
export interface Poster {
  host: string
  slug: string
  /** How many of the crowd come here, beside the other posters. */
  weight: number
  /** Days before today on which it went up. */
  madeAgo: number
}

/** One request of the crowd, before it is sent. */
export interface CrowdRequest {
  at: number
  host: string
  target: string
  method: 'GET' | 'HEAD'
  /** Reserved for documentation (RFC 5737): the crowd lives nowhere. */
  address: string
  headers: Record<string, string>
}

const AGENTS: [weight: number, agent: string][] = [
  [
    34,
    'Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 ' +
      'Mobile Safari/537.36',
  ],
  [
    30,
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) ' +
      'Version/18.1 Mobile/15E148 Safari/604.1',
  ],
  [
    10,
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Safari/537.36',
  ],
  [
    5,
    'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) ' +
      'Version/18.1 Safari/605.1.15',
  ],
  [4, 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0'],
  [
    4,
    'Mozilla/5.0 (iPad; CPU OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 ' +
      'Mobile/15E148 Safari/604.1',
  ],
  [3, 'Mozilla/5.0 (compatible; Harvestbot/2.1; +http://crawler.test/about)'],
]
const LANGUAGES = [
  'pt-PT,pt;q=0.9,en;q=0.7',
  'en-GB,en;q=0.9',
  'es-ES,es;q=0.9',
  'de-DE,de;q=0.9,en;q=0.6',
  'fr-FR,fr;q=0.9',
]
const REFERRERS = [
  '',
  '',
  '',
  '',
  '',
  '',
  'https://www.portanseltransit.example/',
  'https://social.test/',
  'https://search.test/',
  'https://mail.test/',
]
// Share of a day's visits by hour: a transport authority's, with two peaks (invented for the demo).
const HOURS = [1, 1, 1, 1, 1, 3, 7, 12, 11, 6, 5, 5, 6, 6, 5, 6, 9, 12, 10, 6, 4, 3, 2, 1]
const WEEKDAYS = [0.6, 1.05, 1.1, 1.1, 1.15, 1.2, 0.8]

const DAY_MS = 86_400_000

/** As a browser writes a path: what no request line can hold, escaped. */
const toTarget = (path: string) => path.replace(/[^!-~]|[?#"<>]/g, encodeURIComponent)

/** A crowd with habits: which posters, at which hours, on what. `random` gives numbers in [0, 1). */
export class Crowd {
  private readonly reach: number[] = []
  private readonly total: number
  private readonly hours: number[] = []
  private readonly miss: ReturnType<typeof makeMisses>

  constructor(
    private readonly posters: readonly Poster[],
    private readonly random: () => number,
  ) {
    this.miss = makeMisses(
      random,
      posters.map(({ slug }) => slug),
    )
    let sum = 0
    for (const poster of posters) this.reach.push((sum += poster.weight))
    this.total = sum
    let share = 0
    for (const weight of HOURS) this.hours.push((share += weight))
  }

  /** About how many requests come on the day that began at `dayStart`: weekday, season and a little chance. */
  sizeOfDay(dayStart: number, usual: number): number {
    const date = new Date(dayStart)
    const season = 1 + 0.18 * Math.sin((2 * Math.PI * (dayStart / DAY_MS - 80)) / 365)
    return Math.round(usual * WEEKDAYS[date.getUTCDay()]! * season * (0.92 + 0.16 * this.random()))
  }

  /** A moment of the day that began at `dayStart`, by the hours people travel. */
  momentOfDay(dayStart: number): number {
    const share = this.random() * this.hours.at(-1)!
    const hour = this.hours.findIndex((upTo) => share < upTo)
    return dayStart + hour * 3_600_000 + Math.floor(this.random() * 3_600_000)
  }

  /** One request at a moment, `daysAgo` before today. */
  request(at: number, daysAgo: number): CrowdRequest {
    const poster = this.poster(daysAgo)
    const missed = this.random() < 0.03 ? this.miss(poster.host, poster.slug) : undefined
    const agent = this.agent()
    const headers: Record<string, string> = {
      'user-agent': agent,
      'accept-language': this.pick(LANGUAGES),
      accept: 'text/html',
    }
    const referrer = missed ? missed.referrer : this.pick(REFERRERS)
    if (referrer) headers.referer = referrer
    if (this.random() < 0.01) headers['sec-purpose'] = 'prefetch'
    const query = this.random() < 0.05 ? '?utm_source=poster' : ''
    return {
      at,
      host: missed?.host ?? poster.host,
      target: '/' + toTarget(missed?.typed ?? poster.slug) + query,
      method: this.random() < 0.01 ? 'HEAD' : 'GET',
      address: `${this.pick(['192.0.2', '198.51.100', '203.0.113'])}.${1 + Math.floor(this.random() * 254)}`,
      headers,
    }
  }

  private poster(daysAgo: number): Poster {
    for (let tries = 0; tries < 8; tries++) {
      const poster = this.posters[this.indexAt(this.random() * this.total)]!
      if (poster.madeAgo >= daysAgo) return poster
    }
    return this.posters[0]!
  }

  private indexAt(share: number): number {
    let low = 0
    let high = this.reach.length - 1
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.reach[middle]! > share) high = middle
      else low = middle + 1
    }
    return low
  }

  private agent(): string {
    let share = this.random() * AGENTS.reduce((sum, [weight]) => sum + weight, 0)
    for (const [weight, agent] of AGENTS) if ((share -= weight) < 0) return agent
    return AGENTS[0]![1]
  }

  private pick<Item>(items: readonly Item[]): Item {
    return items[Math.floor(this.random() * items.length)]!
  }
}
