import { showHost, type ReadingNote } from '../address'
import { conditionWords } from '../conditions'
import { answer, type AnswerListener, type TableRequest } from './answer'
import type { Answer } from './reply'
import type { Table } from './compile'
import type { Mend } from './forgive'
import { headersOf } from './headers'
import type { CompiledRule } from './rule'
import type { Standing } from '../rows/link'
import { isPermanent } from '../rows/redirect-status'

/** One rung of the trace's ladder. */
export interface TraceStep {
  name: 'Host' | 'Address as read' | 'Found' | 'Forgiveness' | 'Standing' | 'Destination' | 'Our answer'
  state: 'sound' | 'doubtful' | 'broken' | 'idle'
  /** What a person may compare or copy: an address, a slug, a status. */
  value: string
  /** One plain sentence about it. */
  sentence: string
}

export interface Explanation {
  answer: Answer
  /** The fields sent, name and value in turn. */
  headers: string[]
  steps: TraceStep[]
  /** The whole in one sentence. */
  verdict: { state: TraceStep['state']; sentence: string }
}

const NOTES: Record<ReadingNote, string> = {
  escapes: 'percent-encoding normalised',
  'dot-segments': 'dot segments removed',
  unicode: 'Unicode composed',
  capitals: 'not case-sensitive on this domain',
  'trailing-slash': 'trailing slash ignored',
}

const STANDINGS: Record<Standing, [TraceStep['state'], string]> = {
  live: ['sound', 'The link is live.'],
  scheduled: ['idle', 'The link has not started; answered as not found.'],
  paused: ['idle', 'The link is paused.'],
  ended: ['idle', 'The link has ended.'],
  retired: ['idle', 'The link is retired; its slug stays reserved.'],
}

const MENDED: Record<Mend, string> = {
  punctuation: 'Without the punctuation at its end',
  capitals: 'Without regard to capitals',
  'look-alikes': 'Without regard to look-alikes',
}

const SOURCES = {
  link: 'the link’s destination',
  'link-ended': 'the link’s own ended-address',
  'domain-ended': 'the domain’s ended-address',
  root: 'the domain’s root address',
  'not-found': 'the domain’s not-found address',
}

const VERDICTS: Record<Answer['outcome'], [TraceStep['state'], string]> = {
  redirect: ['sound', 'Redirects to its destination'],
  root: ['sound', 'The bare domain answers'],
  'not-found': ['broken', 'No link or rule has this address'],
  scheduled: ['doubtful', 'Not found for now: the link has not begun'],
  paused: ['doubtful', 'The link is paused'],
  ended: ['doubtful', 'The link has ended'],
  retired: ['doubtful', 'The link is retired'],
  reserved: ['idle', 'This path belongs to the gateway'],
  options: ['sound', 'Lists the methods it answers'],
  'bad-method': ['broken', 'The method is refused'],
  'bad-host': ['broken', 'The request names no usable host'],
  'not-ours': ['broken', 'The host is none of our domains'],
  'not-open': ['doubtful', 'The domain is not open yet'],
  'bad-target': ['broken', 'The address cannot be read'],
  'to-https': ['sound', 'Redirects to https first'],
  'too-long': ['broken', 'The address is over 8,000 bytes long'],
}

/** Answers a request by the very code the gateway runs, and tells each step on the way. */
export function explain(table: Table, request: TableRequest, now: number): Explanation {
  const steps: TraceStep[] = []
  let host = ''
  let ruleTaken: string | undefined
  const listener: AnswerListener = {
    host(readAs, part) {
      host = readAs
      const changed = request.host !== undefined && request.host !== readAs ? ' Read in lower case, without port.' : ''
      steps.push({
        name: 'Host',
        state: part ? (part.domain.open ? 'sound' : 'doubtful') : 'broken',
        value: showHost(readAs),
        sentence: !part
          ? 'None of our domains.'
          : part.domain.open
            ? 'One of our domains, open.' + changed
            : 'Ours, but not open yet: its links are waiting.',
      })
    },
    address(canonical, notes) {
      steps.push({
        name: 'Address as read',
        state: 'sound',
        value: showHost(host) + '/' + canonical,
        sentence: notes.length ? sentence(notes.map((note) => NOTES[note]).join('; ')) : 'Exactly as asked.',
      })
    },
    found(by, entry, rule) {
      ruleTaken = rule?.row.pattern
      steps.push({
        name: 'Found',
        state: entry ? 'sound' : by === 'reserved' ? 'idle' : 'broken',
        value: rule ? rule.row.pattern : entry ? `link ${entry.id}` : '',
        sentence:
          by === 'link'
            ? entry?.extra?.forwardsTo
              ? 'A forwarding slug has exactly this address; it answers as its link does.'
              : 'One link has exactly this address.'
            : by === 'rule'
              ? takenBy(rule!)
              : by === 'reserved'
                ? 'A path the gateway keeps for itself.'
                : 'No link and no rule has this address; the domain’s fallback answers.',
      })
    },
    forgiven(verdict) {
      steps.push({
        name: 'Forgiveness',
        state: verdict?.verdict === 'mended' ? 'sound' : verdict ? 'doubtful' : 'idle',
        value: verdict?.verdict === 'mended' ? verdict.slug : '',
        sentence:
          verdict === undefined
            ? 'Nothing that is switched on leads to a live link.'
            : verdict.verdict === 'ambiguous'
              ? `${MENDED[verdict.by]}, several live links remain; none is chosen.`
              : `${MENDED[verdict.by]}, exactly one live link remains.`,
      })
    },
    standing(standing) {
      const [state, text] = STANDINGS[standing]
      // A rule that is asked at all is switched on.
      steps.push({
        name: 'Standing',
        state,
        value: standing,
        sentence: ruleTaken === undefined ? text : 'The rule is switched on.',
      })
    },
    destination(location, from, entry) {
      const policy = from === 'link' && entry
      const carried = policy && entry.query === 'carry' && location !== entry.destination
      const dropped = policy && entry.query === 'discard' && request.target.includes('?')
      steps.push({
        name: 'Destination',
        state: 'sound',
        value: location,
        sentence: sentence(
          (ruleTaken !== undefined && from === 'link' ? 'the rule’s destination, captures put in' : SOURCES[from]) +
            (carried ? '; the visitor’s query was carried' : dropped ? '; the visitor’s query was dropped' : ''),
        ),
      })
    },
  }
  const result = answer(table, request, now, listener)
  const headers = headersOf(result)
  const [state, usual] = VERDICTS[result.outcome]
  const text = result.mended
    ? 'Corrected: redirects to the only possible link'
    : result.ruleId
      ? 'A rule redirects it'
      : usual
  steps.push({
    name: 'Our answer',
    state: result.location !== null ? 'sound' : state,
    value: String(result.status),
    sentence: fieldsInWords(result),
  })
  return { answer: result, headers, steps, verdict: { state, sentence: text } }
}

function takenBy({ row }: CompiledRule): string {
  const asks = conditionWords(row.condition)
  return `No link has it; this is the first rule that takes it${asks && `, because ${asks}`}.`
}

function fieldsInWords(result: Answer): string {
  const view =
    result.location === null
      ? 'Built-in page'
      : isPermanent(result.status)
        ? 'Permanent redirect'
        : 'Temporary redirect'
  const cache =
    result.cacheControl === 'no-store'
      ? 'not cached (Cache-Control: no-store)'
      : `cached by browsers (Cache-Control: ${result.cacheControl})`
  const more = [
    result.vary && `Vary: ${result.vary}`,
    result.robots && `X-Robots-Tag: ${result.robots}`,
    result.referrerPolicy && `Referrer-Policy: ${result.referrerPolicy}`,
    result.retryAfter !== null && `Retry-After: ${result.retryAfter}`,
  ].filter(Boolean)
  return [`${view}; ${cache}`, ...more].join('; ') + '.'
}

const sentence = (text: string) => text[0]!.toUpperCase() + text.slice(1) + '.'
