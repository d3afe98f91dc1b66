import type { VisitKind } from './kind'

/** What was asked and answered. */
export interface RequestPart {
  /** Milliseconds since the epoch. */
  at: number
  domainId: number
  /** 0: no link stood behind the answer. */
  linkId: number
  kind: VisitKind
  status: number
  outcome: string
  /** The path as read, only where no link answered. */
  path: string
  referrer: string
  /** 0: no rule stood behind the answer. */
  ruleId: number
  /** What mended the request; empty where nothing did. */
  mended: string
  /** The miss this visitor had within ten minutes before finding a link, as `domain/path`; empty else. */
  after: string
  /** The mark of the place the address was posted at; empty where it came without. */
  channel?: string
  /** The page that led to a miss, without query; empty for whatever found something. */
  page: string
}

/** Who asked, without the address. */
export interface VisitorPart {
  /** ISO 3166-1 alpha-2 code; empty where unknown. */
  country: string
  language: string
  device: string
  system: string
  browser: string
  /** Day-bound visitor token, 16 octets in hexadecimal; empty where unknown. */
  visitor: string
  /** The network of the visitor, where the organisation keeps it: the address cut to /24 or /48; empty else. */
  network?: string
}

/** One recorded request, as the spool keeps it and the database takes it. Holds no address of the visitor. */
export type VisitEvent = RequestPart & VisitorPart

/** The fields of an event in the order of a line: `writeEvent` and `writeVisitor` keep to it. */
const FIELDS = [
  'at',
  'domainId',
  'linkId',
  'kind',
  'status',
  'outcome',
  'path',
  'referrer',
  'ruleId',
  'mended',
  'after',
  'page',
  'channel',
  'country',
  'language',
  'device',
  'system',
  'browser',
  'visitor',
  'network',
] as const satisfies readonly (keyof VisitEvent)[]

/** The visitor's part of a line; the same for each request of a visitor, so it is written once and kept. */
export function writeVisitor(visitor: VisitorPart): string {
  return JSON.stringify([
    visitor.country,
    visitor.language,
    visitor.device,
    visitor.system,
    visitor.browser,
    visitor.visitor,
    visitor.network ?? '',
  ]).slice(1)
}

const quote = (text: string) => (text === '' ? '""' : JSON.stringify(text))

/** An event as one line of JSON, without the line feed; `visitor` is what `writeVisitor` made. */
export function writeEvent(request: RequestPart, visitor: string): string {
  return (
    `[${request.at},${request.domainId},${request.linkId},"${request.kind}",${request.status},"${request.outcome}",` +
    `${quote(request.path)},${quote(request.referrer)},${request.ruleId},"${request.mended}",` +
    `${quote(request.after)},${quote(request.page)},"${request.channel ?? ''}",${visitor}`
  )
}

/** Reads a line back; `undefined` for a line that a killed process left torn. */
export function readEvent(line: string): VisitEvent | undefined {
  let parsed: unknown
  try {
    parsed = JSON.parse(line)
  } catch {
    return undefined
  }
  if (!Array.isArray(parsed)) return undefined
  // Lines of before there were rules have neither rule nor mend.
  if (parsed.length === 14) parsed.splice(8, 0, 0, '')
  // Lines of before misses were ranked have neither what was missed before nor the page.
  if (parsed.length === 16) parsed.splice(10, 0, '', '')
  // Lines of before marks and networks have neither.
  if (parsed.length === 18) {
    parsed.splice(12, 0, '')
    parsed.push('')
  }
  if (parsed.length !== FIELDS.length) return undefined
  const event: Record<string, unknown> = {}
  for (let at = 0; at < FIELDS.length; at++) event[FIELDS[at]!] = parsed[at]
  return event as unknown as VisitEvent
}
