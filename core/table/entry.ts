import { toWire } from '../address'
import { DECIDED_STANDINGS, type DecidedStanding, type LinkRow } from '../rows/link'
import type { Redirect } from '../rows/redirect'
import { REDIRECT_STATUSES } from '../rows/redirect-status'
import type { StandingFacts } from './standing'

const POLICIES = ['discard', 'destination', 'visitor', 'both'] as const

/** What few links have; kept apart so that the many stay small. */
export interface EntryExtra {
  slug: string | null
  startsAt: number | null
  endsAt: number | null
  resumesAt: number | null
  endedDestination: string | null
  robots: string | null
  referrerPolicy: string | null
  /** The link this slug forwards to. */
  forwardsTo: number | null
  /** Strangers are never told of it. */
  unlisted: boolean
}

/** One link, compiled: what an answer needs and nothing else, in as little memory as it takes. */
export class Entry {
  constructor(
    readonly id: number,
    readonly destination: string,
    /** Bits 0–2 status, 3–4 query policy, 5–6 decided standing; snapshots hold them as they are. */
    readonly flags: number,
    readonly extra: EntryExtra | null,
  ) {}

  /** Neither dates nor a decision keep this link from being live. */
  get plainlyLive(): boolean {
    return this.flags >> 5 === 0 && this.extra === null
  }
  /** The link that stands behind: its own id, or that of the link it forwards to. */
  get leader(): number {
    return this.extra?.forwardsTo ?? this.id
  }
  get status(): Redirect['status'] {
    return REDIRECT_STATUSES[this.flags & 7]!
  }
  get query(): Redirect['query'] {
    return (this.flags >> 3) & 3 ? 'carry' : 'discard'
  }
  get queryConflict(): Redirect['queryConflict'] {
    const policy = POLICIES[(this.flags >> 3) & 3]!
    return policy === 'discard' ? 'destination' : policy
  }
  /** How it redirects. */
  get redirect(): Redirect {
    return { status: this.status, query: this.query, queryConflict: this.queryConflict }
  }
  get standingFacts(): StandingFacts {
    const { startsAt = null, endsAt = null, resumesAt = null } = this.extra ?? {}
    return { standing: DECIDED_STANDINGS[this.flags >> 5]!, startsAt, endsAt, resumesAt }
  }
}

/** The flags of an entry, in one small number. */
export const flagsOf = ({ status, query, queryConflict }: Redirect, standing: DecidedStanding): number =>
  REDIRECT_STATUSES.indexOf(status) |
  (POLICIES.indexOf(query === 'discard' ? 'discard' : queryConflict) << 3) |
  (DECIDED_STANDINGS.indexOf(standing) << 5)

/** Compiles one link. */
export function compileEntry(row: LinkRow): Entry {
  const flags = flagsOf(row, row.standing)
  const slug = row.slug === row.canonical ? null : row.slug
  const plain =
    slug === null &&
    row.startsAt === null &&
    row.endsAt === null &&
    row.resumesAt === null &&
    row.endedDestination === null &&
    row.robots === null &&
    row.referrerPolicy === null &&
    row.forwardsTo === null &&
    !row.unlisted
  const extra: EntryExtra | null = plain
    ? null
    : {
        slug,
        startsAt: row.startsAt,
        endsAt: row.endsAt,
        resumesAt: row.resumesAt,
        endedDestination: row.endedDestination,
        robots: row.robots,
        referrerPolicy: row.referrerPolicy,
        forwardsTo: row.forwardsTo,
        unlisted: row.unlisted,
      }
  // What is kept is ASCII already; a row written past the application must not break a header.
  return new Entry(row.id, toWire(row.destination), flags, extra)
}

/** An entry that has nothing of its own but its flags, as another entry told them. */
export const plainEntry = (id: number, destination: string, flags: number): Entry =>
  new Entry(id, toWire(destination), flags, null)

/** The row an entry was compiled of, as it stands in the table under a canonical slug. */
export function entryRow(entry: Entry, domainId: number, canonical: string): LinkRow {
  return {
    id: entry.id,
    domainId,
    canonical,
    slug: entry.extra?.slug ?? canonical,
    destination: entry.destination,
    ...entry.redirect,
    ...entry.standingFacts,
    endedDestination: entry.extra?.endedDestination ?? null,
    robots: entry.extra?.robots ?? null,
    referrerPolicy: entry.extra?.referrerPolicy ?? null,
    forwardsTo: entry.extra?.forwardsTo ?? null,
    unlisted: entry.extra?.unlisted ?? false,
  }
}
