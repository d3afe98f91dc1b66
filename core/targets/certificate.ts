import type { CertificateFault, HopCertificate } from './evidence'

/** What browsers refuse a certificate for, by OpenSSL's or Node's name. */
const FAULTS: Record<string, CertificateFault> = {
  CERT_HAS_EXPIRED: 'expired',
  CERT_NOT_YET_VALID: 'not-yet',
  ERR_TLS_CERT_ALTNAME_INVALID: 'wrong-name',
  DEPTH_ZERO_SELF_SIGNED_CERT: 'self-signed',
  SELF_SIGNED_CERT_IN_CHAIN: 'unknown-issuer',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'unknown-issuer',
  UNABLE_TO_GET_ISSUER_CERT: 'unknown-issuer',
  UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'unknown-issuer',
  CERT_UNTRUSTED: 'unknown-issuer',
  CA_MD_TOO_WEAK: 'weak',
  CA_KEY_TOO_SMALL: 'weak',
  EE_KEY_TOO_SMALL: 'weak',
}

/** The least key an RSA certificate may have (CA/Browser Forum Baseline Requirements §6.1.5). */
const MIN_RSA_BITS = 2048

/**
 * What is wrong with a certificate, of several things the one a person can act on: `undefined` where browsers take it.
 * `code` is why the chain was refused, `nameMatches` whether it is for the host asked.
 */
export function certificateFault(of: {
  code: string | undefined
  nameMatches: boolean
  rsaBits: number | undefined
}): CertificateFault | null {
  if (of.code !== undefined) return FAULTS[of.code] ?? 'other'
  if (!of.nameMatches) return 'wrong-name'
  return of.rsaBits !== undefined && of.rsaBits < MIN_RSA_BITS ? 'weak' : null
}

const day = (moment: string | null) => (moment === null ? 'a date that cannot be read' : moment.slice(0, 10))

/** What visitors are told of a certificate, in a sentence's middle. */
export function certificateWords({ fault, names, issuer, subject, validFrom, validTo }: HopCertificate): string {
  const words: Record<CertificateFault, string> = {
    expired: `expired on ${day(validTo)}`,
    'not-yet': `is not valid before ${day(validFrom)}`,
    'wrong-name': `is for ${(names.length > 0 ? names : [subject || 'no name']).slice(0, 3).join(', ')}`,
    'unknown-issuer': `was issued by ${issuer || 'an unnamed issuer'}, which browsers do not know`,
    'self-signed': 'is self-signed, so browsers do not trust it',
    weak: 'has a key or signature too weak for browsers',
    other: 'is refused by browsers',
  }
  return fault === null ? 'is sound' : words[fault]
}
