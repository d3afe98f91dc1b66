import type { QueryConflict, QueryPolicy } from '../address'
import type { Forgiveness } from './forgive'

/** The redirect statuses of RFC 9110 §15.4 that Fides gives. */
export const REDIRECT_STATUSES = [301, 302, 303, 307, 308] as const
export type RedirectStatus = (typeof REDIRECT_STATUSES)[number]

/** A permanent status may be kept by browsers and replaces the address in search engines (RFC 9110 §15.4.2, §15.4.9). */
export const isPermanent = (status: number) => status === 301 || status === 308

/** What a person decided about a link; `scheduled` and a passed end follow from its dates. */
export const DECIDED_STANDINGS = ['live', 'paused', 'ended', 'retired'] as const
export type DecidedStanding = (typeof DECIDED_STANDINGS)[number]
export type Standing = DecidedStanding | 'scheduled'

/** A link as the table needs it. Moments are milliseconds since the epoch. */
export interface LinkRow {
  id: number
  domainId: number
  slug: string
  canonical: string
  destination: string
  status: RedirectStatus
  query: QueryPolicy
  queryConflict: QueryConflict
  standing: DecidedStanding
  startsAt: number | null
  endsAt: number | null
  resumesAt: number | null
  endedDestination: string | null
  /** Value of X-Robots-Tag. */
  robots: string | null
  /** Value of Referrer-Policy. */
  referrerPolicy: string | null
  /** The link whose answer this slug gives; all else here is that link's. `null` for a link of its own. */
  forwardsTo: number | null
}

/** A domain as the table needs it. */
export interface DomainRow {
  id: number
  /** Canonical host (A-labels). */
  host: string
  /** Whether the domain answers; a domain that is not yet open gives 421. */
  open: boolean
  capitalsMatter: boolean
  trailingSlashMatters: boolean
  /** How long a browser may keep a permanent answer, in seconds. */
  permanenceSeconds: number
  rootDestination: string | null
  notFoundDestination: string | null
  endedDestination: string | null
  forgiveness: Forgiveness
}
