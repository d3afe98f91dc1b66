import { NOBODY } from '../conditions'
import { answer } from './answer'
import { FATES, type Fate } from './fates'
import { follow, isOnHosts, type TableAt } from './follow'
import type { Answer, Outcome } from './reply'

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

const visitorOf = (language: string) => (language === '' ? NOBODY : { ...NOBODY, acceptLanguage: language })

/** Puts one request to a table, as the gateway would answer it, and follows it through addresses of ours. */
export function seenIn(at: TableAt, request: Omit<PastRequest, 'count'>): Seen {
  const { host, target, language } = request
  return followed(at, request, answer(at.table, { method: 'GET', host, target, visitor: visitorOf(language) }, at.now))
}

function followed(at: TableAt, { host, target, language }: Omit<PastRequest, 'count'>, given: Answer): Seen {
  const { status, outcome, location } = given
  const found = status < 400 && !LOST.has(outcome)
  if (location === null || !isOnHosts(at.table, location)) return { status, found, end: location, loops: false }
  const way = follow(at, host, target, visitorOf(language))
  if (way.loopsTo !== undefined) return { status, found: false, end: null, loops: true }
  return { status, found: found && way.status < 400, end: way.end ?? null, loops: false }
}

/**
 * Whether another table gives the very answer that one gave, because it shares with it all that made it: the domain,
 * and the link or the rules. Tables of a proposal share what it does not change; what cannot be told so is asked.
 */
function answersAlike(one: TableAt, other: TableAt, { domainId, canonical, ruleId, linkId, mended }: Answer): boolean {
  if (one.now !== other.now || mended !== null) return false
  const [part, changed] = [one.table.domains.get(domainId), other.table.domains.get(domainId)]
  if (!part || part.domain !== changed?.domain) return false
  const entry = part.links.get(canonical)
  if (entry !== changed.links.get(canonical)) return false
  if (ruleId === 0 && linkId !== 0) return entry !== undefined
  // No link has the address in either: what rules say of it is the same where they are the same.
  if (entry !== undefined || part.rules !== changed.rules) return false
  const { punctuation, capitals, lookAlikes } = part.domain.forgiveness
  return ruleId !== 0 || !(punctuation || capitals || lookAlikes)
}

/** What one request comes to in two tables. */
function seenInBoth(before: TableAt, after: TableAt, request: Omit<PastRequest, 'count'>): [Seen, Seen] {
  const { host, target, language } = request
  const asked = { method: 'GET', host, target, visitor: visitorOf(language) }
  const given = answer(before.table, asked, before.now)
  const was = followed(before, request, given)
  const leadsOn =
    given.location !== null && (isOnHosts(before.table, given.location) || isOnHosts(after.table, given.location))
  return [was, !leadsOn && answersAlike(before, after, given) ? was : seenIn(after, request)]
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

const MAX_EXAMPLES = 20

export const noneReplayed = (): Replayed => ({
  requests: 0,
  counts: Object.fromEntries(FATES.map((fate) => [fate, 0])) as Replayed['counts'],
  examples: Object.fromEntries(FATES.map((fate) => [fate, [] as ReplayExample[]])) as Replayed['examples'],
})

/** Requests that come to one thing, and how many they were. */
interface Known {
  fate: Fate
  count: number
  example: Omit<ReplayExample, 'count'> | undefined
}

/** Replays requests against two tables; equal ones are worked out once. */
export class Replay {
  /** By host, then by target and language: most are asked again and again, and joined keys would cost more. */
  private readonly known = new Map<string, Map<string, Known>>()
  /** Whatever comes to the same is no example, and is counted together. */
  private readonly same: Known = { fate: 'same', count: 0, example: undefined }

  constructor(
    private readonly before: TableAt,
    private readonly after: TableAt,
  ) {}

  put(request: PastRequest): void {
    const { host, target, language, count } = request
    const key = language === '' ? target : `${target} ${language}`
    let ofHost = this.known.get(host)
    if (ofHost === undefined) this.known.set(host, (ofHost = new Map()))
    let known = ofHost.get(key)
    if (known === undefined) ofHost.set(key, (known = this.see(request)))
    known.count += count
  }

  private see(request: PastRequest): Known {
    const [before, after] = seenInBoth(this.before, this.after, request)
    const fate = fateOf(before, after)
    if (fate === 'same') return this.same
    return { fate, count: 0, example: { host: request.host, target: request.target, before, after } }
  }

  /** What has been counted so far, with examples. */
  told(): Replayed {
    const whole = noneReplayed()
    const most = new Map(FATES.map((fate) => [fate, new MostAsked<Known>(nameOf)]))
    const add = (known: Known) => {
      whole.requests += known.count
      whole.counts[known.fate] += known.count
      if (known.example) most.get(known.fate)!.add(known)
    }
    add(this.same)
    for (const ofHost of this.known.values()) for (const known of ofHost.values()) if (known !== this.same) add(known)
    for (const [fate, { list }] of most)
      whole.examples[fate] = list.map(({ example, count }) => ({ ...example!, count }))
    return whole
  }
}

const nameOf = ({ example }: Known): string => example!.target

/** Of very many the most asked, told apart by their names; the others are passed over without being put in order. */
class MostAsked<One extends { count: number }> {
  readonly list: One[] = []

  constructor(private readonly name: (one: One) => string) {}

  private before(one: One, other: One): boolean {
    return one.count > other.count || (one.count === other.count && this.name(one) < this.name(other))
  }

  add(one: One): void {
    const { list } = this
    if (list.length === MAX_EXAMPLES && !this.before(one, list.at(-1)!)) return
    let at = list.length
    while (at > 0 && this.before(one, list[at - 1]!)) at--
    list.splice(at, 0, one)
    if (list.length > MAX_EXAMPLES) list.pop()
  }
}

/** Joins what several counted of requests that were dealt out among them. */
export function joinReplayed(parts: readonly Replayed[]): Replayed {
  const whole = noneReplayed()
  const most = new Map(FATES.map((fate) => [fate, new MostAsked<ReplayExample>(({ target }) => target)]))
  for (const part of parts) {
    whole.requests += part.requests
    for (const fate of FATES) {
      whole.counts[fate] += part.counts[fate]
      for (const example of part.examples[fate]) most.get(fate)!.add(example)
    }
  }
  for (const [fate, { list }] of most) whole.examples[fate] = list
  return whole
}
