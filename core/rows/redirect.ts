import { z } from 'zod'
import { oneOf, status, type RowOf } from './field'

/** The redirect statuses of RFC 9110 §15.4 that Fides gives. */
export const REDIRECT_STATUSES = [301, 302, 303, 307, 308] as const
export type RedirectStatus = (typeof REDIRECT_STATUSES)[number]

/**
 * A permanent status may be kept by browsers and replaces the address in search engines (RFC 9110 §15.4.2, §15.4.9).
 */
export const isPermanent = (status: number) => status === 301 || status === 308

export const redirectStatus = z.literal(REDIRECT_STATUSES, 'Choose one of 301, 302, 303, 307 and 308.')

const QUERY_POLICIES = ['discard', 'carry'] as const
const QUERY_CONFLICTS = ['destination', 'visitor', 'both'] as const

/** How whatever redirects does so, links and rules alike (semantics §1 items 8 and 9). */
export const REDIRECT_FIELDS = {
  status: status<RedirectStatus>()({
    readers: ['table', 'survey', 'ledger'],
    answers: true,
    schema: redirectStatus,
  }),
  query: oneOf(QUERY_POLICIES)({
    readers: ['table', 'survey', 'ledger'],
    answers: true,
    fallback: 'discard',
    schema: z.enum(QUERY_POLICIES, 'Choose “discard” or “carry”.'),
  }),
  queryConflict: oneOf(QUERY_CONFLICTS)({
    readers: ['table', 'survey', 'ledger'],
    answers: true,
    fallback: 'destination',
    schema: z.enum(QUERY_CONFLICTS, 'Choose “destination”, “visitor” or “both”.'),
  }),
}

/** How something redirects. */
export type Redirect = RowOf<typeof REDIRECT_FIELDS, 'table'>
