/** What the front tells of certificates as it happens. */
export const CERTIFICATE_EVENTS = ['obtaining', 'obtained', 'renewing', 'renewed', 'failed'] as const
export type CertificateEventKind = (typeof CERTIFICATE_EVENTS)[number]

export interface CertificateEvent {
  /** Milliseconds. */
  at: number
  host: string
  kind: CertificateEventKind
  detail: string
}

const MAX_DETAIL = 1000

const KINDS: readonly [loggers: RegExp, says: RegExp, kind: CertificateEventKind][] = [
  [/^tls\.obtain$/, /^obtaining certificate$/, 'obtaining'],
  [/^tls\.obtain$/, /^certificate obtained/, 'obtained'],
  [/^tls\.renew$/, /^renewing certificate$/, 'renewing'],
  [/^tls\.renew$/, /^certificate renewed/, 'renewed'],
  [/^tls\.(?:obtain|renew)$/, /^could not get certificate|^will retry|^final attempt/, 'failed'],
]

/** An authority's own words in a fault (RFC 8555 §6.7), without what only its server can use. */
const inWords = (fault: string): string =>
  fault
    .replace(/urn:ietf:params:acme:error:/g, '')
    .replace(/\s*\(order=\S+\)/g, '')
    .replace(/^\[[^\]]*\]\s*(?:Obtain|Renew):\s*/i, '')
    .trim()

/** A line of the front's log (JSON, one object a line) as what it tells of a certificate; `undefined` for any other. */
export function readFrontLine(line: string): CertificateEvent | undefined {
  let entry: Record<string, unknown>
  try {
    entry = JSON.parse(line) as Record<string, unknown>
  } catch {
    return undefined
  }
  if (entry === null || typeof entry !== 'object') return undefined
  const { ts, logger, msg, identifier, error, remaining } = entry
  if (typeof ts !== 'number' || typeof logger !== 'string' || typeof msg !== 'string' || typeof identifier !== 'string')
    return undefined
  const found = KINDS.find(([loggers, says]) => loggers.test(logger) && says.test(msg))
  if (!found || !/^[a-z0-9.-]{1,253}$/.test(identifier)) return undefined
  const detail =
    found[2] === 'failed' && typeof error === 'string'
      ? inWords(error)
      : found[2] === 'renewing' && typeof remaining === 'number'
        ? `${Math.max(0, Math.floor(remaining / 86_400))} days before its end`
        : ''
  return { at: Math.round(ts * 1000), host: identifier, kind: found[2], detail: detail.slice(0, MAX_DETAIL) }
}
