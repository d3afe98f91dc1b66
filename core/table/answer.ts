import { composeLocation, MAX_HOST, readHost, readSlug, readTarget, withoutMark, type ReadingNote } from '../address'
import { NOBODY, type Visitor } from '../conditions'
import type { DomainTable, Table } from './compile'
import type { Entry } from './entry'
import { forgive, type ForgivenessVerdict } from './forgive'
import type { Standing } from '../rows/link'
import { isPermanent } from '../rows/redirect-status'
import type { CompiledRule } from './rule'
import { NO_STORE, page, redirect, type Answer, type Outcome } from './reply'
import { standingAt } from './standing'

/** A request as the gateway sees it. */
export interface TableRequest {
  method: string
  /** The Host field's value; `undefined` where there was none. */
  host: string | undefined
  /** More than one Host field came (RFC 9112 §3.2). */
  hostDoubled?: boolean
  /** HTTP/1.0 may come without Host. */
  http10?: boolean
  /** The request target as it came (RFC 9112 §3.2); ASCII. */
  target: string
  /** Whether it came over TLS; `undefined` where nobody trusted says. */
  secure?: boolean
  /** What is known of the visitor beside the address. */
  visitor?: Omit<Visitor, 'query'>
}

/** What `answer` tells a listener on its way; `explain` makes the trace's ladder from it. */
export interface AnswerListener {
  host?(host: string, part: DomainTable | undefined): void
  address?(canonical: string, notes: readonly ReadingNote[]): void
  found?(by: 'link' | 'rule' | 'reserved' | 'fallback', entry: Entry | undefined, rule?: CompiledRule): void
  /** Told where nothing was found and forgiveness was tried. */
  forgiven?(verdict: ForgivenessVerdict): void
  standing?(standing: Standing, entry: Entry): void
  destination?(
    location: string,
    from: 'link' | 'link-ended' | 'domain-ended' | 'root' | 'not-found',
    entry: Entry | undefined,
  ): void
}

export const ALLOW = 'GET, HEAD, OPTIONS, POST, PUT, PATCH, DELETE'
/** Longer paths are no address a rule was made for; matching them against many rules is what an attacker would want. */
export const MAX_RULED = 2000
const NO_NOTES: readonly ReadingNote[] = []

/**
 * Answers one request from the table at `now` (milliseconds), after semantics §1. Does no I/O, never throws, gives
 * at most one link. The listener, where given, hears each decision as it is taken and changes none.
 */
export function answer(table: Table, request: TableRequest, now: number, listener?: AnswerListener): Answer {
  const given = answerAnyway(table, request, now, listener)
  // Said over TLS alone: who could change it on its way must not be believed (RFC 6797 §7.2).
  if (request.secure) given.hsts = table.domains.get(given.domainId)?.domain.hstsSeconds ?? null
  return given
}

function answerAnyway(table: Table, request: TableRequest, now: number, listener?: AnswerListener): Answer {
  if (request.hostDoubled || (request.host !== undefined && request.host.length > MAX_HOST))
    return page(400, 'bad-host', 0)
  const target = readTarget(request.target)
  const authority = target.ok && target.authority !== undefined ? target.authority : request.host
  if (authority === undefined) return page(request.http10 ? 421 : 400, request.http10 ? 'not-ours' : 'bad-host', 0)
  if (authority.length > MAX_HOST) return page(400, 'bad-host', 0)
  let part = table.hosts.get(authority)
  if (part === undefined) {
    const reading = readHost(authority)
    if (!reading.ok) return page(400, 'bad-host', 0)
    part = table.hosts.get(reading.host)
    listener?.host?.(reading.host, part)
    if (part === undefined) return page(421, 'not-ours', 0)
  } else listener?.host?.(part.domain.host, part)
  const domain = part.domain
  if (!domain.open) return page(421, 'not-open', domain.id)

  if (request.method === 'OPTIONS') return page(204, 'options', domain.id)
  if (request.method === 'TRACE' || request.method === 'CONNECT') return page(405, 'bad-method', domain.id)
  if (!target.ok)
    return page(
      target.reason === 'too-long' ? 414 : 400,
      target.reason === 'too-long' ? 'too-long' : 'bad-target',
      domain.id,
    )

  if (request.secure === false && domain.httpsOnly && !isWellKnown(target.path.slice(1)))
    return {
      ...redirect(308, `https://${domain.host}${pathAndQuery(request.target)}`, 'to-https', domain.id, ''),
      cacheControl: permanence(domain.permanenceSeconds, null, now),
    }

  // Which placement it was read from is ours to know; it matches nothing and goes nowhere.
  const query = target.query === '' ? '' : withoutMark(target.query)
  // A key of the map is a fixed point of reading, so a path that is one needs no reading.
  let canonical = target.path.slice(1)
  let entry = part.links.get(canonical)
  if (entry === undefined) {
    const reading = readSlug(target.path, domain)
    if (!reading.ok) return page(400, 'bad-target', domain.id)
    canonical = reading.canonical
    listener?.address?.(canonical, reading.notes)
    entry = part.links.get(canonical)
  } else listener?.address?.(canonical, NO_NOTES)

  if (entry !== undefined) {
    listener?.found?.('link', entry)
    return answerLink(part, entry, canonical, query, now, listener)
  }
  // /.well-known/ belongs to the gateway, whatever a rule would take (RFC 8615).
  if (part.rules.rules.length > 0 && canonical.length <= MAX_RULED && !isWellKnown(canonical)) {
    return answerByRules(part, canonical, query, request.visitor ?? NOBODY, now, listener)
  }
  return answerWithoutLink(part, canonical, query, now, listener)
}

function answerByRules(
  part: DomainTable,
  canonical: string,
  query: string,
  known: Omit<Visitor, 'query'>,
  now: number,
  listener: AnswerListener | undefined,
): Answer {
  const visitor = { ...known, query }
  const rivals = part.rules.rivals(canonical)
  let varies: readonly string[] = []
  for (const rule of part.rules.candidates(canonical)) {
    const entry = rule.take(canonical, visitor, rivals)
    // What was looked at on the way shaped the answer, whether the rule was taken or not.
    if (rule.varies.length > 0 && (entry || rule.fits(canonical))) varies = [...new Set([...varies, ...rule.varies])]
    if (entry === undefined) continue
    listener?.found?.('rule', entry, rule)
    const result = answerLink(part, entry, canonical, query, now, listener)
    result.ruleId = rule.row.id
    return varied(result, varies)
  }
  return varied(answerWithoutLink(part, canonical, query, now, listener), varies)
}

/** An answer that another visitor would not get is nobody's to keep (semantics §9). */
const varied = (result: Answer, varies: readonly string[]): Answer =>
  varies.length === 0 ? result : { ...result, vary: varies.join(', '), cacheControl: NO_STORE }

function answerLink(
  part: DomainTable,
  entry: Entry,
  canonical: string,
  query: string,
  now: number,
  listener: AnswerListener | undefined,
): Answer {
  const domain = part.domain
  const standing = entry.plainlyLive ? 'live' : standingAt(entry.standingFacts, now)
  listener?.standing?.(standing, entry)
  if (standing === 'scheduled')
    return { ...answerMiss(part, canonical, listener), outcome: 'scheduled', linkId: entry.id }
  if (standing === 'retired') return page(410, 'retired', domain.id, entry.id, canonical)
  if (standing === 'ended') {
    const location = entry.extra?.endedDestination ?? domain.endedDestination
    if (location === null) return page(410, 'ended', domain.id, entry.id, canonical)
    listener?.destination?.(location, entry.extra?.endedDestination ? 'link-ended' : 'domain-ended', entry)
    return { ...redirect(302, location, 'ended', domain.id, canonical), linkId: entry.id }
  }
  if (standing === 'paused') {
    const resumesAt = entry.extra?.resumesAt ?? null
    const paused = page(resumesAt === null ? 404 : 503, 'paused', domain.id, entry.id, canonical)
    if (resumesAt !== null) paused.retryAfter = Math.max(1, Math.ceil((resumesAt - now) / 1000))
    return paused
  }
  const location = composeLocation(entry.destination, query, entry.query, entry.queryConflict)
  listener?.destination?.(location, 'link', entry)
  return {
    status: entry.status,
    outcome: 'redirect',
    location,
    cacheControl: isPermanent(entry.status)
      ? permanence(domain.permanenceSeconds, entry.extra?.endsAt ?? null, now)
      : NO_STORE,
    robots: entry.extra?.robots ?? null,
    referrerPolicy: entry.extra?.referrerPolicy ?? null,
    vary: null,
    hsts: null,
    retryAfter: null,
    linkId: entry.id,
    ruleId: 0,
    mended: null,
    domainId: domain.id,
    canonical,
  }
}

// A permanent answer must not outlive the link's own end in anybody's cache (RFC 9111 §4.2.1).
function permanence(windowSeconds: number, endsAt: number | null, now: number): string {
  const seconds =
    endsAt === null ? windowSeconds : Math.min(windowSeconds, Math.max(0, Math.floor((endsAt - now) / 1000)))
  return 'max-age=' + seconds
}

/** Paths that answer for the gateway itself where no link took them (RFC 8615, RFC 9309). */
function isReservedPath(canonical: string): boolean {
  return canonical === 'robots.txt' || canonical === 'favicon.ico' || isWellKnown(canonical)
}

/** A request target without scheme and host, octet for octet (RFC 9112 §3.2.2). */
const pathAndQuery = (target: string) => (target[0] === '/' ? target : target.replace(/^[a-z]+:\/\/[^/?]*\/?/i, '/'))

const isWellKnown = (canonical: string) =>
  canonical.startsWith('.well-known') && (canonical.length === 11 || canonical[11] === '/')

function answerWithoutLink(
  part: DomainTable,
  canonical: string,
  query: string,
  now: number,
  listener: AnswerListener | undefined,
): Answer {
  if (isReservedPath(canonical)) {
    listener?.found?.('reserved', undefined)
    const status = canonical === 'robots.txt' ? 200 : canonical === 'favicon.ico' ? 204 : 404
    return page(status, 'reserved', part.domain.id, 0, canonical)
  }
  listener?.found?.('fallback', undefined)
  const { forgiveness } = part.domain
  if (canonical !== '' && (forgiveness.punctuation || forgiveness.capitals || forgiveness.lookAlikes)) {
    const verdict = forgive(part, canonical, now)
    listener?.forgiven?.(verdict)
    if (verdict?.verdict === 'mended') {
      const result = answerLink(part, verdict.entry, canonical, query, now, listener)
      // A guess, however good, is nobody's to keep.
      return {
        ...result,
        status: result.status === 301 ? 302 : result.status === 308 ? 307 : result.status,
        cacheControl: NO_STORE,
        mended: verdict.by,
      }
    }
  }
  return answerMiss(part, canonical, listener)
}

function answerMiss(part: DomainTable, canonical: string, listener: AnswerListener | undefined): Answer {
  const domain = part.domain
  const root = canonical === ''
  const location = root ? domain.rootDestination : domain.notFoundDestination
  const outcome: Outcome = root ? 'root' : 'not-found'
  if (location === null) return page(root ? 200 : 404, outcome, domain.id, 0, canonical)
  listener?.destination?.(location, root ? 'root' : 'not-found', undefined)
  return redirect(302, location, outcome, domain.id, canonical)
}
