import type { DnsName } from '../name'

/** What must be known of this installation to plan a switch. */
export interface GatewayFacts {
  /** The name a sub-domain's CNAME leads to; `undefined` where the installation has none. */
  name: DnsName | undefined
  ipv4: readonly string[]
  ipv6: readonly string[]
  /** The CAA names of the certificate issuer the front uses. */
  issuers: readonly string[]
}

/** The label the ownership record stands under (RFC 8552: underscored, so that it is no host). */
export const PROOF_LABEL = '_fides'
export const proofName = (name: DnsName): DnsName => `${PROOF_LABEL}.${name}`
/** The data of the ownership record. */
export const proofData = (token: string) => `"fides=${token}"`

/** The TTL of records Fides asks for, and of those lowered before a switch; seconds. */
export const NEW_TTL = 3600
export const LOW_TTL = 300
