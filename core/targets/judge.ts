import { certificateWords } from './certificate'
import type { Evidence, FaultKind, Hop, PageFacts } from './evidence'
import { lostParameters } from './parameters'
import { resemblance } from './shingles'
import { challengeWords, signInWall } from './sign-in'
import type { Judged, VerdictFact, VerdictName } from './verdicts'

const PERMANENT = new Set([301, 308])
/** Two texts at least so alike are one page, where their titles say so too; where they do not, nearly the same. */
const ALIKE = 0.8
const NEARLY_SAME = 0.95
/** A page of fewer words cannot be told from another. */
const MIN_WORDS = 4
/** Nothing but a notice has more words than this. */
const MAX_NOTICE_WORDS = 250

/** Names of status codes (RFC 9110, section 15; RFC 6585, section 4; RFC 7725, section 3). */
const STATUS_WORDS: Record<number, string> = {
  400: 'Bad Request',
  401: 'Unauthorized',
  403: 'Forbidden',
  404: 'Not Found',
  405: 'Method Not Allowed',
  407: 'Proxy Authentication Required',
  410: 'Gone',
  429: 'Too Many Requests',
  451: 'Unavailable For Legal Reasons',
  500: 'Internal Server Error',
  502: 'Bad Gateway',
  503: 'Service Unavailable',
  504: 'Gateway Timeout',
}
const statusInWords = (status: number) => `${status}${STATUS_WORDS[status] ? ` (${STATUS_WORDS[status]})` : ''}`
const redirects = (count: number) => (count === 0 ? '' : ` after ${count} ${count === 1 ? 'redirect' : 'redirects'}`)
const hostOf = (url: string) => new URL(url).host

/**
 * The verdict on a destination from what one check saw, and from nothing else: the same evidence always gives the same
 * verdict (semantics §5).
 */
export function judge(evidence: Evidence): Judged {
  const last = evidence.hops.at(-1)!
  const moved = evidence.hops.length - 1
  const facts: VerdictFact[] = evidence.hops.map((hop, index) => hopFact(hop, index === moved))
  const told = (verdict: VerdictName, sentence: string, ...more: VerdictFact[]): Judged => ({
    verdict,
    sentence,
    facts: [...facts, ...more],
    final: last.status === null ? null : last.url,
  })
  const verdict =
    ofFault(evidence, last, told) ??
    ofStatus(evidence, last, moved, told) ??
    ofPage(evidence, last, told) ??
    ofWay(evidence, last, moved, told)
  return verdict
}

type Tell = (verdict: VerdictName, sentence: string, ...more: VerdictFact[]) => Judged

function hopFact(hop: Hop, isLast: boolean): VerdictFact {
  const via = hop.via === 'refresh' ? 'page sends on to ' : hop.via === 'script' ? 'script sends on to ' : ''
  const state = hop.fault || (hop.status ?? 0) >= 400 ? 'broken' : 'sound'
  const text = hop.fault
    ? hop.fault.text
    : `${statusInWords(hop.status!)}, ${hop.milliseconds.toLocaleString('en')} ms${isLast ? '' : ', sent on'}`
  return { label: via + hop.url, text, state }
}

const FAULTS: Record<Exclude<FaultKind, 'certificate'>, [VerdictName, (hop: Hop) => string]> = {
  'no-name': ['no-such-name', (hop) => `The host ${hostOf(hop.url)} does not exist (NXDOMAIN).`],
  'no-address': ['no-such-name', (hop) => `${hostOf(hop.url)} has no address, so browsers cannot find its server.`],
  'names-silent': ['no-answer', (hop) => `The name servers of ${hostOf(hop.url)} do not answer for it.`],
  'not-public': [
    'no-answer',
    (hop) =>
      `${hostOf(hop.url)} leads to ${hop.address ?? 'an address'} inside a private network, where visitors cannot ` +
      'go; it was not asked.',
  ],
  'bad-port': ['no-answer', (hop) => `Browsers do not go to port ${new URL(hop.url).port}; it was not asked.`],
  'refused-connection': ['no-answer', (hop) => `${hostOf(hop.url)} refuses connections.`],
  reset: ['no-answer', (hop) => `${hostOf(hop.url)} closes the connection without an answer.`],
  timeout: [
    'no-answer',
    (hop) => `${hostOf(hop.url)} did not answer within ${Math.max(1, Math.round(hop.milliseconds / 1000))} s.`,
  ],
  malformed: ['no-answer', (hop) => `${hostOf(hop.url)} does not answer in HTTP.`],
  'broke-off': ['no-answer', (hop) => `The answer of ${hostOf(hop.url)} breaks off before its end.`],
  'no-tls': [
    'certificate',
    (hop) => `${hostOf(hop.url)} offers no TLS version or cipher that current browsers accept.`,
  ],
  'bad-location': [
    'server-error',
    (hop) => `${hostOf(hop.url)} answers ${hop.status} with an invalid Location (${short(hop.location)}).`,
  ],
  'other-scheme': [
    'moved-temporarily',
    (hop) => `${hostOf(hop.url)} answers ${hop.status} and hands visitors to an app (${short(hop.location)}).`,
  ],
}
const short = (text: string | null) => `“${(text ?? '').slice(0, 60)}”`

function ofFault(evidence: Evidence, last: Hop, told: Tell): Judged | undefined {
  const hops = evidence.hops.length
  if (evidence.endless === 'came-back')
    return told(
      'redirect-loop',
      `Redirect loop: after ${hops === 1 ? 'one hop' : `${hops} hops`} visitors are where they were before.`,
    )
  if (evidence.endless === 'too-many')
    return told('redirect-loop', `More than ${hops - 1} redirects; browsers stop there.`)
  if (!last.fault) return undefined
  if (last.fault.kind === 'certificate' && last.certificate)
    return told(
      'certificate',
      `Browsers warn visitors about ${hostOf(last.url)}: its certificate ${certificateWords(last.certificate)}.`,
      {
        label: 'Certificate',
        text: `for ${last.certificate.names.join(', ') || last.certificate.subject}`,
        state: 'broken',
      },
    )
  if (last.fault.kind === 'certificate')
    return told('certificate', `Browsers warn visitors off ${hostOf(last.url)}: its certificate cannot be read.`)
  const [verdict, sentence] = FAULTS[last.fault.kind]
  return told(verdict, sentence(last))
}

function ofStatus(evidence: Evidence, last: Hop, moved: number, told: Tell): Judged | undefined {
  const status = last.status!
  if (status >= 200 && status < 300) return undefined
  const wall = status === 403 && evidence.page ? signInWall(evidence, last) : undefined
  if (status === 401 || status === 407)
    return told(
      'sign-in',
      `Sign-in required: it answers ${status} and asks for ` + `${challengeWords(last.fields?.challenge ?? null)}.`,
    )
  if (wall) return told('sign-in', wall.sentence, { label: wall.label, text: wall.text, state: 'broken' })
  if (status === 404 || status === 410) {
    const sibling = evidence.sibling?.status
    const gone = status === 410 ? 'answers 410 (Gone)' : 'answers 404 (Not Found)'
    return told(
      'not-found',
      `The destination ${gone}${redirects(moved)}${sibling === status ? '; so does a made-up address beside it' : ''}.`,
    )
  }
  if (status >= 500)
    return told('server-error', `The server of ${hostOf(last.url)} fails: it answers ${statusInWords(status)}.`)
  if (status >= 400) {
    const wait = last.fields?.retryAfter ? ` and says to wait (Retry-After: ${last.fields.retryAfter})` : ''
    return told(
      'refused',
      `${hostOf(last.url)} blocks our check with ${statusInWords(status)}${wait}. Visitors may still see the page.`,
    )
  }
  return told('server-error', `${hostOf(last.url)} answers ${status} without a Location, so browsers show nothing.`)
}

const sameTitle = (one: PageFacts, other: PageFacts) => {
  const plain = (page: PageFacts) =>
    (page.title || page.heading)
      .toLowerCase()
      .replace(/[\d\s]+/g, ' ')
      .trim()
  return plain(one) === plain(other)
}

/** Whether a made-up address shows the very same page; `undefined` where pages of so few words tell nothing. */
function likeSibling({ page, sibling }: Evidence): number | undefined {
  if (!page || !sibling?.page || sibling.status === null || sibling.status >= 300) return undefined
  if (page.type !== sibling.page.type) return 0
  // A page made by its script looks like every other before it has run.
  if (page.words < MIN_WORDS && (page.scripts > 0 || page.title === '')) return undefined
  const alike = resemblance(page.sketch, sibling.page.sketch)
  return alike >= NEARLY_SAME || (alike >= ALIKE && sameTitle(page, sibling.page)) ? Math.max(alike, ALIKE) : 0
}

const FRONT = /^\/(?:[a-z]{2}(?:[-_][a-z]{2})?\/?)?(?:(?:index|home|default|start|welcome)(?:\.\w{2,5})?\/?)?$/i
const isFront = (url: string) => FRONT.test(new URL(url).pathname)
const percent = (share: number) => `${Math.round(share * 100)}%`

function ofPage(evidence: Evidence, last: Hop, told: Tell): Judged | undefined {
  const { page, sibling } = evidence
  if (page === null) return undefined
  const has = (sign: string) => page.signs.includes(sign) && page.words < MAX_NOTICE_WORDS
  const name = page.title || page.heading
  const shown: VerdictFact = { label: 'The page', text: name ? `“${name}”` : `${page.words} words`, state: 'broken' }
  if (has('parked'))
    return told(
      'parked',
      `${hostOf(last.url)} is a parked domain: it shows an offer to sell the name instead of the page.`,
      shown,
    )
  if (has('maintenance'))
    return told('server-error', `The server answers ${last.status} with a maintenance page: “${name}”.`, shown)
  if (has('challenge'))
    return told(
      'refused',
      `${hostOf(last.url)} shows a bot check to our request. Visitors may still see the page.`,
      shown,
    )
  const wall = signInWall(evidence, last)
  if (wall) return told('sign-in', wall.sentence, { label: wall.label, text: wall.text, state: 'broken' })
  const asked = new URL(evidence.destination)
  const sentAway = evidence.hops.length > 1 && !isFront(evidence.destination) && isFront(last.url)
  if (sentAway)
    return told(
      'front-page',
      `Visitors reach the home page of ${hostOf(last.url)}: ${asked.pathname} now redirects there.`,
      { label: 'Asked for', text: evidence.destination, state: 'broken' },
    )
  if (isFront(evidence.destination) && evidence.hops.length === 1)
    return has('not-found') ? told('soft-not-found', noPage(last, name), shown) : undefined
  const alike = likeSibling(evidence)
  const beside: VerdictFact | undefined = sibling
    ? { label: `Made-up ${sibling.url}`, text: siblingWords(sibling.status, alike), state: alike ? 'broken' : 'sound' }
    : undefined
  if (alike)
    return told(
      'soft-not-found',
      `The page is not there: it answers ${last.status}, but a made-up address beside it shows the same page ` +
        `(${percent(alike)} alike).`,
      shown,
      beside!,
    )
  if (has('not-found')) return told('soft-not-found', noPage(last, name), shown, ...(beside ? [beside] : []))
  return undefined
}

const noPage = (last: Hop, name: string) => `Page not found: it answers ${last.status}, but its text says “${name}”.`

const siblingWords = (status: number | null, alike: number | undefined) =>
  status === null
    ? 'no answer'
    : status >= 300
      ? statusInWords(status)
      : alike === undefined
        ? `${status}, too few words to compare`
        : alike === 0
          ? `${status}, another page`
          : `${status}, the same page`

function ofWay(evidence: Evidence, last: Hop, moved: number, told: Tell): Judged {
  const { hops, destination, page } = evidence
  const lost = lostParameters(hops)
  if (lost.length > 0) {
    const names = lost.map(({ name }) => `“${name}”`).join(', ')
    return told(
      'parameters-lost',
      `The page answers, but the ${lost.length === 1 ? 'parameter' : 'parameters'} ${names} ` +
        `${lost.length === 1 ? 'is' : 'are'} lost at hop ${lost[0]!.hop} (${hostOf(lost[0]!.by)}).`,
      ...lost.map(({ name, value, hop, by }) => ({
        label: `${name}=${value}`,
        text: `lost at hop ${hop}, ${by}`,
        state: 'doubtful' as const,
      })),
    )
  }
  if (destination.startsWith('https:') && last.url.startsWith('http:'))
    return told(
      'downgraded',
      `Visitors start on https and end on http: ${hostOf(last.url)} shows the page without encryption.`,
    )
  if (moved === 0) {
    const called = page?.title ? ` (“${page.title}”)` : ''
    return told('sound', `Answers ${last.status} in ${last.milliseconds.toLocaleString('en')} ms${called}.`)
  }
  const permanent = hops
    .slice(0, -1)
    .every((hop, index) => PERMANENT.has(hop.status!) && hops[index + 1]!.via === 'status')
  return permanent
    ? told(
        'moved-permanently',
        `Moved permanently: ${leads(moved, 'permanent redirect')} to ${shown(last.url)}, which answers ${last.status}.`,
      )
    : told(
        'moved-temporarily',
        `Moved temporarily: ${leads(moved, 'redirect')} to ${shown(last.url)}, which answers ${last.status}.`,
      )
}

const leads = (count: number, what: string) => (count === 1 ? `one ${what} leads` : `${count} ${what}s lead`)
const shown = (url: string) => (url.length <= 120 ? url : url.slice(0, 117) + '…')
