/** How a hop was come to: as asked, by a redirect's status, or by the page before. */
export type HopVia = 'request' | 'status' | 'refresh' | 'script'

/** What kept a hop from being answered. */
export type FaultKind =
  /** No resolver knows the name (NXDOMAIN), or it has no address. */
  | 'no-name'
  | 'no-address'
  /** Resolvers fail for it, or say nothing. */
  | 'names-silent'
  /** An address no visitor from outside reaches; it was not asked. */
  | 'not-public'
  /** A port browsers do not go to (Fetch, “port blocking”). */
  | 'bad-port'
  | 'refused-connection'
  | 'reset'
  | 'timeout'
  /** What came is no HTTP, or broke off. */
  | 'malformed'
  | 'broke-off'
  | 'certificate'
  /** TLS without an agreement: no common version or cipher. */
  | 'no-tls'
  /** A Location no address can be made of. */
  | 'bad-location'
  /** A Location of another scheme than http and https. */
  | 'other-scheme'

export interface HopFault {
  kind: FaultKind
  text: string
}

export type CertificateFault =
  'expired' | 'not-yet' | 'wrong-name' | 'unknown-issuer' | 'self-signed' | 'weak' | 'other'

/** What a server's certificate says. */
export interface HopCertificate {
  subject: string
  issuer: string
  names: string[]
  validFrom: string | null
  validTo: string | null
  fault: CertificateFault | null
}

/** Fields of an answer that a verdict may rest on. */
export interface HopFields {
  type: string | null
  challenge: string | null
  retryAfter: string | null
  frameOptions: string | null
  frameAncestors: string | null
  setsCookie: boolean
}

/** One request of a check and what came of it. */
export interface Hop {
  url: string
  method: 'GET' | 'HEAD' | 'POST'
  via: HopVia
  address: string | null
  status: number | null
  location: string | null
  milliseconds: number
  certificate: HopCertificate | null
  fields: HopFields | null
  fault: HopFault | null
  /** Answered from our own table: it is one of our addresses. */
  own?: true
}

export interface PreviewCard {
  title: string
  text: string
  picture: string
  site: string
}

/** What is kept of a page: enough to judge it by, not the page. */
export interface PageFacts {
  /** Media type, lower case; empty where none was named. */
  type: string
  octets: number
  /** Only its beginning was read. */
  cut: boolean
  title: string
  heading: string
  language: string
  /** Words of its own text, without navigation and the like. */
  words: number
  /** The least hashes of its text's shingles (Broder 1997). */
  sketch: number[]
  scripts: number
  passwordFields: number
  /** Where its forms with a password go. */
  formHosts: string[]
  refresh: { seconds: number; url: string } | null
  /** Where its script sends whoever runs it, as far as it says so in plain text. */
  scriptMove: string | null
  /** Signs of core/targets/signs.ts it bears. */
  signs: string[]
  card: PreviewCard | null
}

/** What a made-up address beside the destination was answered: nobody can have linked to it. */
export interface SiblingEvidence {
  url: string
  status: number | null
  final: string
  page: PageFacts | null
}

/** All that one check saw, from which alone it is judged. */
export interface Evidence {
  destination: string
  /** When it was asked, in milliseconds since the epoch. */
  at: number
  hops: Hop[]
  /** The body of the last hop; `null` where it has none or none was asked for. */
  page: PageFacts | null
  sibling: SiblingEvidence | null
  /** Redirects beyond the most that browsers follow, or one that came back to a request made before. */
  endless: 'too-many' | 'came-back' | null
}

/** As many redirects as browsers follow (Fetch, HTTP-redirect fetch). */
export const MAX_REDIRECTS = 20
