import { parse } from 'tldts'

/** Where a host stands by the public suffix list (publicsuffix.org, private section too). */
export interface SuffixReading {
  /** The suffix under which names are registered. */
  suffix: string
  /** The name one registers; `undefined` where the host is a public suffix itself. */
  registrable: string | undefined
  /** The host is the name that was registered, with nothing before it. */
  isApex: boolean
  isPublicSuffix: boolean
}

/**
 * Reads a host against the public suffix list. A suffix the list does not know counts as one label (its default rule).
 */
export function readSuffix(host: string): SuffixReading {
  const { publicSuffix, domain } = parse(host, { allowPrivateDomains: true, validateHostname: false })
  return {
    suffix: publicSuffix ?? host,
    registrable: domain ?? undefined,
    isApex: domain === host,
    isPublicSuffix: domain === null,
  }
}
