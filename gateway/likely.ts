import { performance } from 'node:perf_hooks'
import { Worker } from 'node:worker_threads'
import type { ConnectionConfig } from 'mariadb'
import { LRUCache } from 'lru-cache'
import { showHost } from '../core/address'
import { MAX_RANKED, noiseOf, type IndexedLink } from '../core/misses'
import type { Offer } from '../core/pages'
import { Backoff } from '../environment/backoff'
import { standingAt, type Entry, type Table } from '../core/table'

/** A link is offered as the likely one from here, and as one of others from there (never followed by itself). */
export const LIKELY = 0.8
export const POSSIBLE = 0.2
const MAX_OTHERS = 3

/** Rankings under way at once, a second, and the longest one is waited for. Beyond, the page comes without offers. */
const MAX_WAITING = 32
const MAX_A_SECOND = 300
const PATIENCE_MS = 40
const REMEMBERED = 5000
/** While the thread that answers is busier than this, nothing is ranked. */
const BUSY = 0.85
const LINKS_A_STEP = 1000
/** A thread that ended is started again after this, in milliseconds, at first. */
const RESTART_MS = 1000

/** What the ranking thread is told. */
export type ToThread =
  | { type: 'clear' }
  | { type: 'links'; links: IndexedLink[] }
  | { type: 'ready' }
  | { type: 'change'; gone: number[]; links: IndexedLink[] }
  | { type: 'rank'; id: number; domainId: number; path: string; least: number }

interface Ranked {
  domainId: number
  canonical: string
  probability: number
}
type FromThread = { type: 'ready'; bytes: number } | { type: 'ranked'; id: number; candidates: Ranked[] }

/** What may be offered to who asked in vain. */
export interface Offers {
  likely: Offer | null
  others: Offer[]
}
export const NO_OFFERS: Offers = { likely: null, others: [] }

/** How often offers were made, and how often ranking was given up and why. */
export interface LikelyFigures {
  ranked: number
  remembered: number
  givenUp: { busy: number; waiting: number; late: number; notReady: number }
}

const indexed = (entry: Entry, domainId: number, canonical: string): IndexedLink => ({
  id: entry.id,
  leader: entry.leader,
  domainId,
  canonical,
  visits: 0,
  live: isLive(entry, Date.now()),
  shown: !entry.extra?.unlisted,
})
const isLive = (entry: Entry, now: number) => entry.plainlyLive || standingAt(entry.standingFacts, now) === 'live'

/** Keeps the ranking thread told of the table, and asks it within bounds. */
export class Likely {
  readonly figures: LikelyFigures = {
    ranked: 0,
    remembered: 0,
    givenUp: { busy: 0, waiting: 0, late: 0, notReady: 0 },
  }
  private thread!: Worker
  /** What was told last, for a thread that takes the place of a dead one. */
  private table: Table | undefined
  private isStopped = false
  private readonly backoff = new Backoff(RESTART_MS)
  private readonly known = new LRUCache<string, readonly Ranked[]>({ max: REMEMBERED })
  private readonly waiting = new Map<number, (candidates: readonly Ranked[] | undefined) => void>()
  private ready = false
  /** How often the links changed: what was ranked before a change is not remembered after it. */
  private generation = 0
  private next = 0
  private second = 0
  private asked = 0
  private feeding = 0
  private loop = performance.eventLoopUtilization()
  private busy = false
  private readonly watch: NodeJS.Timeout

  constructor(
    private readonly connection: ConnectionConfig,
    private readonly log: (line: string) => void,
    private readonly file = new URL(
      import.meta.url.endsWith('.ts') ? './likely-thread.ts' : './likely.mjs',
      import.meta.url,
    ),
  ) {
    this.start()
    this.watch = setInterval(() => {
      this.busy = performance.eventLoopUtilization(this.loop).utilization > BUSY
      this.loop = performance.eventLoopUtilization()
    }, 250)
    this.watch.unref()
  }

  /** Starts the thread; one that ends is started again. Without it pages come without offers: nothing else needs it. */
  private start(): void {
    const began = Date.now()
    const thread = new Worker(this.file, { workerData: { connection: this.connection } })
    this.thread = thread
    thread.unref()
    thread.on('message', (message: FromThread) => this.hear(message))
    thread.on('error', (error: Error) => this.log(`ranking of misses stopped: ${error.message}`))
    thread.once('exit', () => {
      this.ready = false
      for (const answer of this.waiting.values()) answer(undefined)
      if (this.isStopped) return
      const waitMs = this.backoff.next('ranking', Date.now() - began)
      setTimeout(() => {
        if (this.isStopped) return
        this.start()
        if (this.table) void this.load(this.table)
      }, waitMs).unref()
    })
  }

  private tell(message: ToThread): void {
    this.thread.postMessage(message)
  }

  /** Tells all links, in steps between which visitors have their turn. */
  async load(table: Table): Promise<void> {
    this.table = table
    const feeding = ++this.feeding
    this.ready = false
    this.forget()
    this.tell({ type: 'clear' })
    let links: IndexedLink[] = []
    for (const [domainId, part] of table.domains) {
      for (const [canonical, entry] of part.links) {
        links.push(indexed(entry, domainId, canonical))
        if (links.length < LINKS_A_STEP) continue
        this.tell({ type: 'links', links })
        links = []
        await new Promise(setImmediate)
        // A newer table is being told.
        if (feeding !== this.feeding) return
      }
    }
    this.tell({ type: 'links', links })
    this.tell({ type: 'ready' })
  }

  /** Tells what a change took out and put in. */
  change(table: Table, gone: readonly number[], put: readonly { domainId: number; canonical: string }[]): void {
    this.forget()
    const links = put.flatMap(({ domainId, canonical }) => {
      const entry = table.domains.get(domainId)?.links.get(canonical)
      return entry ? [indexed(entry, domainId, canonical)] : []
    })
    this.tell({ type: 'change', gone: [...gone], links })
  }

  private forget(): void {
    this.generation++
    this.known.clear()
  }

  private hear(message: FromThread): void {
    if (message.type === 'ready') this.ready = true
    else this.waiting.get(message.id)?.(message.candidates)
  }

  /**
   * What was most likely meant by a path that found nothing: at once where it is known, else by and by, and
   * `undefined` where ranking is given up, which is counted.
   */
  ask(domainId: number, path: string): readonly Ranked[] | undefined | Promise<readonly Ranked[] | undefined> {
    const key = `${domainId}/${path}`
    const known = this.known.get(key)
    if (known) {
      this.figures.remembered++
      return known
    }
    const { givenUp } = this.figures
    if (path.length > MAX_RANKED || noiseOf(path)) return undefined
    if (!this.ready) return void givenUp.notReady++
    const second = Math.floor(Date.now() / 1000)
    if (second !== this.second) {
      this.second = second
      this.asked = 0
    }
    if (this.busy || this.asked >= MAX_A_SECOND) return void givenUp.busy++
    if (this.waiting.size >= MAX_WAITING) return void givenUp.waiting++
    this.asked++
    const id = ++this.next
    const { generation } = this
    this.tell({ type: 'rank', id, domainId, path, least: POSSIBLE })
    return new Promise((resolve) => {
      const timer = setTimeout(() => {
        givenUp.late++
        this.waiting.delete(id)
        resolve(undefined)
      }, PATIENCE_MS)
      this.waiting.set(id, (candidates) => {
        clearTimeout(timer)
        this.waiting.delete(id)
        this.figures.ranked++
        if (candidates && generation === this.generation) this.known.set(key, candidates)
        resolve(candidates)
      })
    })
  }

  async stop(): Promise<void> {
    this.isStopped = true
    clearInterval(this.watch)
    await this.thread.terminate()
  }
}

/** What is offered of a ranking, as the table stands now: only links that answer, on domains that are open. */
export function offersOf(table: Table, domainId: number, ranked: readonly Ranked[] | undefined): Offers {
  if (!ranked || ranked.length === 0) return NO_OFFERS
  const now = Date.now()
  let likely: Offer | null = null
  const others: Offer[] = []
  for (const { domainId: of, canonical, probability } of ranked) {
    const part = table.domains.get(of)
    const entry = part?.links.get(canonical)
    if (!part?.domain.open || !entry || entry.extra?.unlisted || !isLive(entry, now)) continue
    const slug = entry.extra?.slug ?? canonical
    const path = '/' + slug.split('/').map(encodeEscaped).join('/')
    const offer = {
      address: `${showHost(part.domain.host)}/${slug}`,
      href: of === domainId ? path : `//${part.domain.host}${path}`,
    }
    if (probability >= LIKELY && !likely) likely = offer
    else if (probability >= POSSIBLE && others.length < MAX_OTHERS) others.push(offer)
  }
  return { likely, others }
}

/** A piece of a slug as it stands in an address: escapes it holds already stay. */
const encodeEscaped = (piece: string): string =>
  piece.replace(/%[0-9A-F]{2}|[^]/gu, (one) => (one.length === 3 && one[0] === '%' ? one : encodeURIComponent(one)))
