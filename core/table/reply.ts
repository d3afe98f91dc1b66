import type { Mend } from './forgive'

export const NO_STORE = 'no-store'

/** Why the answer is what it is; kept with each recorded request. */
export type Outcome =
  | 'redirect'
  | 'root'
  | 'not-found'
  | 'scheduled'
  | 'paused'
  | 'ended'
  | 'retired'
  | 'reserved'
  | 'options'
  | 'bad-method'
  | 'bad-host'
  | 'not-ours'
  | 'not-open'
  | 'bad-target'
  | 'too-long'
  | 'to-https'

/** The answer to one request, before it is written as HTTP. */
export interface Answer {
  status: number
  outcome: Outcome
  /** The Location, absolute; `null` where the answer is a page of our own. */
  location: string | null
  /** Value of Cache-Control. */
  cacheControl: string
  robots: string | null
  referrerPolicy: string | null
  /** Request fields the answer depends on, for Vary (RFC 9110 §12.5.5). */
  vary: string | null
  /** Seconds for Strict-Transport-Security (RFC 6797 §6.1), where it came over TLS and the domain says so. */
  hsts: number | null
  /** Seconds for Retry-After, where a resume time is known. */
  retryAfter: number | null
  /** The link that answered, or that stands behind a paused, ended or retired page; 0 for none. */
  linkId: number
  /** The rule that answered; 0 where none did. */
  ruleId: number
  /** What mended the request, where it was not found as it came. */
  mended: Mend | null
  /** The domain asked; 0 where the host is none of ours. */
  domainId: number
  /** The address as read; empty for the bare domain and where nothing could be read. */
  canonical: string
}

/** An answer that leads somewhere, with all else as a page has it. */
export function redirect(
  status: number,
  location: string,
  outcome: Outcome,
  domainId: number,
  canonical: string,
): Answer {
  return { ...page(status, outcome, domainId, 0, canonical), location }
}

/** An answer that is a page of our own. */
export function page(status: number, outcome: Outcome, domainId: number, linkId = 0, canonical = ''): Answer {
  return {
    status,
    outcome,
    location: null,
    cacheControl: NO_STORE,
    robots: null,
    referrerPolicy: null,
    vary: null,
    hsts: null,
    retryAfter: null,
    linkId,
    ruleId: 0,
    mended: null,
    domainId,
    canonical,
  }
}
