import { randomInt } from 'node:crypto'
import { CookieJar } from 'tough-cookie'
import {
  locationUrl,
  MAX_REDIRECTS,
  readPage,
  type Evidence,
  type Hop,
  type HopVia,
  type PageFacts,
  type PageLink,
  type SiblingEvidence,
} from '../../core/targets'
import { askHop, type AskedHop } from './ask-hop'
import type { Asker } from './asker'

export interface CheckOptions {
  /** What the check before saw: where the page is still the same, its sibling need not be asked again. */
  previous?: Evidence | null
  /** Ask with HEAD: the target was seen to answer it as it answers GET. */
  head?: boolean
  /** The languages asked for, as Accept-Language has them. */
  language?: string
  /** Leave the made-up neighbour out. */
  alone?: boolean
}

export interface Checked {
  evidence: Evidence
  /** Links of the page it ended at. */
  links: PageLink[]
  /** What the host last asked asks to wait. */
  waitMs: number | undefined
}

/** Nobody waits so long for a page, however many redirects it takes. */
const MAX_MS = 60_000
const DAY_MS = 86_400_000
/** A made-up neighbour is asked again after this, however little changes. */
const SIBLING_MS = 7 * DAY_MS

/**
 * Checks a destination: follows it from hop to hop as a browser would, at most 20 redirects, page and script moves
 * included, with cookies of its own that no other check sees; then asks for a made-up address beside it. Rejects only
 * where a host asked to wait.
 */
export async function checkDestination(
  asker: Asker,
  destination: string,
  options: CheckOptions = {},
): Promise<Checked> {
  const at = Date.now()
  const walked = await walk(asker, destination, options)
  const last = walked.hops.at(-1)!
  if (options.head && !answersWell(last)) return checkDestination(asker, destination, { ...options, head: false })
  const evidence: Evidence = {
    destination,
    at,
    hops: walked.hops,
    page: walked.page,
    sibling: null,
    endless: walked.endless,
  }
  if (!options.alone) evidence.sibling = await sibling(asker, evidence, options.previous ?? null)
  return { evidence, links: walked.links, waitMs: walked.waitMs }
}

/**
 * Whether a target answers HEAD as it answers GET, by what GET was answered just now: same status and same type
 * (RFC 9110 §9.3.2). Only asked for what is no page: a page’s text has to be read anyhow.
 */
export async function answersHead(asker: Asker, evidence: Evidence): Promise<boolean> {
  const last = evidence.hops.at(-1)!
  const { hop } = await askHop(asker, { url: last.url, method: 'HEAD', via: 'request', cookies: '' })
  return answersWell(hop) && hop.status === last.status && hop.fields?.type === last.fields?.type
}

/** Whether an answer to HEAD says all there is to say. */
const answersWell = (hop: Hop): boolean =>
  hop.fault === null && hop.status === 200 && !/^text\/html|xhtml/.test(hop.fields?.type ?? 'text/html')

interface Walked {
  hops: Hop[]
  page: PageFacts | null
  links: PageLink[]
  endless: Evidence['endless']
  waitMs: number | undefined
}

async function walk(asker: Asker, from: string, { head, language }: CheckOptions): Promise<Walked> {
  const jar = new CookieJar(undefined, { looseMode: true })
  const walked: Walked = { hops: [], page: null, links: [], endless: null, waitMs: undefined }
  const seen = new Set<string>()
  const until = performance.now() + MAX_MS
  let url = new URL(from).href
  let via: HopVia = 'request'
  for (;;) {
    const cookies = cookiesFor(jar, url)
    const key = `${url.split('#')[0]} ${cookies}`
    if (seen.has(key)) return { ...walked, endless: 'came-back' }
    if (walked.hops.length > MAX_REDIRECTS) return { ...walked, endless: 'too-many' }
    seen.add(key)
    const asked = await askHop(asker, { url, method: head ? 'HEAD' : 'GET', via, cookies, language })
    walked.hops.push(asked.hop)
    walked.waitMs = asked.waitMs
    for (const cookie of asked.setCookies) keepCookie(jar, cookie, url)
    if (asked.hop.fault) return walked
    const next = nextOf(asked, walked)
    if (!next) return walked
    if (performance.now() > until) {
      asked.hop.fault = { kind: 'timeout', text: `the way goes on after ${MAX_MS / 1000} s` }
      return walked
    }
    ;({ url, via } = next)
  }
}

const REDIRECTS = new Set([301, 302, 303, 307, 308])

/** Where the answer sends a browser on to; `undefined` where it is the end. */
function nextOf({ hop, body, charset }: AskedHop, walked: Walked): { url: string; via: HopVia } | undefined {
  if (REDIRECTS.has(hop.status!) && hop.location !== null) {
    const next = locationUrl(hop.location, hop.url)
    if (next.ok) return { url: next.url, via: 'status' }
    hop.fault = {
      kind: next.reason,
      text: next.reason === 'bad-location' ? 'its Location is no address' : 'it hands visitors to an app',
    }
    return undefined
  }
  if (body === null) return undefined
  const read = readPage(decode(body.octets, charset), {
    url: hop.url,
    type: hop.fields?.type ?? '',
    octets: body.octets.length,
    cut: body.cut,
  })
  walked.page = read.facts
  walked.links = read.links
  if (hop.status !== 200) return undefined
  const { refresh, scriptMove } = read.facts
  const goal = refresh
    ? { url: refresh.url, via: 'refresh' as const }
    : scriptMove && { url: scriptMove, via: 'script' as const }
  const next = goal ? locationUrl(goal.url, hop.url) : undefined
  if (!goal || !next?.ok) return undefined
  walked.page = null
  return { url: next.url, via: goal.via }
}

const CHARSET = /<meta[^>]{1,200}charset\s*=\s*["']?\s*([\w-]{2,40})/i

/** Octets as text, by what the answer or the page says of its encoding; UTF-8 where neither does. */
function decode(octets: Buffer, charset: string): string {
  const beginning = octets.subarray(0, 1024).toString('latin1')
  const named = charset || (CHARSET.exec(beginning)?.[1] ?? 'utf-8')
  try {
    return new TextDecoder(named).decode(octets)
  } catch {
    return octets.toString('latin1')
  }
}

function cookiesFor(jar: CookieJar, url: string): string {
  try {
    return jar.getCookieStringSync(url).slice(0, 4000)
  } catch {
    return ''
  }
}

function keepCookie(jar: CookieJar, cookie: string, url: string): void {
  try {
    if (cookie.length <= 4096) jar.setCookieSync(cookie, url, { ignoreError: true })
  } catch {
    // One that cannot be read is not kept, as browsers do.
  }
}

/** An address beside a destination that nobody can have made: its last part replaced by chance letters. */
export function madeUpBeside(destination: string): string | undefined {
  const url = new URL(destination)
  const parts = url.pathname.split('/')
  const at = parts.at(-1) === '' ? parts.length - 2 : parts.length - 1
  if (at < 1) return undefined
  const extension = /\.[a-z0-9]{1,5}$/i.exec(parts[at]!)?.[0] ?? ''
  const letters = 'bcdfghjkmnpqrstvwxz'
  parts[at] = Array.from({ length: 14 }, () => letters[randomInt(letters.length)]).join('') + extension
  return url.origin + parts.join('/')
}

/**
 * What a made-up neighbour is answered, where that can tell anything. A page that looks as it did when its neighbour
 * was last asked is no other page than then.
 */
async function sibling(asker: Asker, evidence: Evidence, previous: Evidence | null): Promise<SiblingEvidence | null> {
  const last = evidence.hops.at(-1)!
  if (evidence.endless || last.fault || last.status === null) return null
  const isPage =
    last.status < 300 && evidence.page !== null && /^(?:text\/|application\/xhtml|$)/.test(evidence.page.type)
  if (!isPage && last.status !== 404) return null
  const same =
    previous?.sibling &&
    evidence.at - previous.at < SIBLING_MS &&
    previous.hops.at(-1)!.status === last.status &&
    previous.hops.at(-1)!.url === last.url &&
    previous.page?.title === evidence.page?.title &&
    String(previous.page?.sketch) === String(evidence.page?.sketch)
  if (same) return previous.sibling
  const url = madeUpBeside(evidence.destination)
  if (url === undefined) return null
  const walked = await walk(asker, url, {})
  const end = walked.hops.at(-1)!
  return { url, status: end.fault || walked.endless ? null : end.status, final: end.url, page: walked.page }
}
