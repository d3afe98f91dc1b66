import { NOBODY } from '../conditions'
import { answer } from './answer'
import { FATES, type Fate } from './fates'
import { follow, isOnHosts, type TableAt } from './follow'
import type { Outcome } from './reply'

/** A past request, and how often it was asked alike. */
export interface PastRequest {
  host: string
  /** The request target, like `/fares`. */
  target: string
  /** Of Accept-Language, where it is known; empty where not. */
  language: string
  count: number
}

/** What one request comes to in a table. */
export interface Seen {
  status: number
  /** Whether it finds what it asks for: a link's or rule's destination, a root page. */
  found: boolean
  /** The address it ends at, through however many of ours; `null` for a page of our own. */
  end: string | null
  loops: boolean
}

const LOST: ReadonlySet<Outcome> = new Set(['not-found', 'scheduled'])

/** Puts one request to a table, as the gateway would answer it, and follows it through addresses of ours. */
export function seenIn(at: TableAt, { host, target, language }: Omit<PastRequest, 'count'>): Seen {
  const visitor = language === '' ? NOBODY : { ...NOBODY, acceptLanguage: language }
  const { status, outcome, location } = answer(at.table, { method: 'GET', host, target, visitor }, at.now)
  const found = status < 400 && !LOST.has(outcome)
  if (location === null || !isOnHosts(at.table, location)) return { status, found, end: location, loops: false }
  const way = follow(at, host, target, visitor)
  if (way.loopsTo !== undefined) return { status, found: false, end: null, loops: true }
  return { status, found: found && way.status < 400, end: way.end ?? null, loops: false }
}

/** What becomes of a request that came to one thing before and would come to another. */
export function fateOf(before: Seen, after: Seen): Fate {
  if (after.loops && !before.loops) return 'loop'
  if (before.found && !after.found) return 'lost'
  if (!before.found) return after.found ? 'served' : 'missing'
  if (before.end !== after.end) return 'elsewhere'
  return before.status === after.status ? 'same' : 'status'
}

/** One request of a kind, with what it came and would come to. */
export interface ReplayExample {
  host: string
  target: string
  count: number
  before: Seen
  after: Seen
}

export interface Replayed {
  requests: number
  /** Requests by what becomes of them. */
  counts: Record<Fate, number>
  /** The most asked of each kind that is not the same. */
  examples: Record<Fate, ReplayExample[]>
}

const MOST_EXAMPLES = 20

export const noneReplayed = (): Replayed => ({
  requests: 0,
  counts: Object.fromEntries(FATES.map((fate) => [fate, 0])) as Replayed['counts'],
  examples: Object.fromEntries(FATES.map((fate) => [fate, [] as ReplayExample[]])) as Replayed['examples'],
})

/** Replays requests against two tables; equal ones are worked out once. */
export class Replay {
  readonly result = noneReplayed()
  private readonly known = new Map<string, { fate: Fate; example: ReplayExample | undefined }>()

  constructor(
    private readonly before: TableAt,
    private readonly after: TableAt,
  ) {}

  put(request: PastRequest): void {
    const { host, target, language, count } = request
    const key = language === '' ? host + target : `${host}${target} ${language}`
    let known = this.known.get(key)
    if (known === undefined) {
      const before = seenIn(this.before, request)
      const after = seenIn(this.after, request)
      const fate = fateOf(before, after)
      known = { fate, example: fate === 'same' ? undefined : { host, target, count: 0, before, after } }
      this.known.set(key, known)
    }
    if (known.example) known.example.count += count
    this.result.counts[known.fate] += count
    this.result.requests += count
  }

  /** What has been counted so far, with examples. */
  told(): Replayed {
    const examples = noneReplayed().examples
    for (const { fate, example } of this.known.values()) if (example) examples[fate].push(example)
    for (const fate of FATES) examples[fate] = mostAsked(examples[fate])
    return { ...this.result, counts: { ...this.result.counts }, examples }
  }
}

const mostAsked = (examples: ReplayExample[]) =>
  examples.sort((a, b) => b.count - a.count || (a.target < b.target ? -1 : 1)).slice(0, MOST_EXAMPLES)

/** Joins what several counted of requests that were dealt out among them. */
export function joinReplayed(parts: readonly Replayed[]): Replayed {
  const whole = noneReplayed()
  for (const part of parts) {
    whole.requests += part.requests
    for (const fate of FATES) {
      whole.counts[fate] += part.counts[fate]
      whole.examples[fate].push(...part.examples[fate])
    }
  }
  for (const fate of FATES) whole.examples[fate] = mostAsked(whole.examples[fate])
  return whole
}
