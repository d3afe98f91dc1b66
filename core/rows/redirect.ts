import { z } from 'zod'
import { oneOf, status, type RowOf } from './field'
import { REDIRECT_STATUSES, type RedirectStatus } from './redirect-status'

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
