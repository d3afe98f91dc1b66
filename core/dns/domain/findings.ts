import type { DnsName } from '../name'

/**
 * Something found in a zone. `fatal`: servers refuse such a zone; `warning`: people suffer from it; `notice`: good to
 * know.
 */
export interface ZoneFinding {
  kind: FindingKind
  severity: 'fatal' | 'warning' | 'notice'
  name: DnsName
  type: string
  sentence: string
}

export type FindingKind =
  | 'no-soa'
  | 'several-soa'
  | 'soa-elsewhere'
  | 'no-ns'
  | 'cname-at-apex'
  | 'cname-and-other'
  | 'several-cnames'
  | 'ns-to-cname'
  | 'ns-without-address'
  | 'out-of-zone'
  | 'not-seen'
  | 'self-cname'
  | 'cname-loop'
  | 'dangling-cname'
  | 'mx-to-cname'
  | 'mx-without-address'
  | 'mixed-ttls'
  | 'name-outside'
  | 'delegated'
  | 'website-on-name'
  | 'mail-on-name'
  | 'wildcard-stops'
  | 'caa-shuts-out'
  | 'one-family'
  | 'long-ttl'
  | 'signed-zone'
  | 'already-here'
