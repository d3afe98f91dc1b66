import { z } from 'zod'
import { DESTINATION_REFUSALS, judgeSlug, readDestination, SLUG_REFUSALS } from '../address'
import { line } from './line'
import { placement } from './placement'
import { DECIDED_STANDINGS, REDIRECT_STATUSES } from '../table/rows'

/** Referrer-Policy tokens (Referrer Policy, W3C Candidate Recommendation, §3). */
export const REFERRER_POLICIES = [
  'no-referrer',
  'no-referrer-when-downgrade',
  'same-origin',
  'origin',
  'strict-origin',
  'origin-when-cross-origin',
  'strict-origin-when-cross-origin',
  'unsafe-url',
] as const

/** A destination as kept: what `readDestination` makes of it. App schemes are judged by the use case, which knows the domain. */
export const destination = z.string('Give the long address it leads to.').transform((typed, context) => {
  const scheme = /^([a-z][a-z0-9+.-]*):/i.exec(typed.trim())?.[1]?.toLowerCase()
  const reading = readDestination(
    typed,
    scheme && !['javascript', 'data', 'vbscript', 'file', 'blob', 'about'].includes(scheme) ? [scheme] : [],
  )
  if (reading.ok) return reading.destination
  context.addIssue(DESTINATION_REFUSALS[reading.reason])
  return z.NEVER
})

export const slug = z.string('Give the part after the slash, like “fares”.').superRefine((typed, context) => {
  const refusal = judgeSlug(typed)
  if (refusal) context.addIssue(SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
})

export const tagName = line(60, 'A tag').min(1, 'A tag needs at least one character.')

const moment = z.iso.datetime({ offset: true, error: 'Give a moment like 2027-03-01T08:00:00Z.' })
const headerValue = z
  .string()
  .trim()
  .max(120, 'At most 120 characters.')
  .regex(/^[\x21-\x7e](?:[\x20-\x7e]*[\x21-\x7e])?$/, 'Use plain ASCII, as in “noindex, nofollow”.')

export const redirectStatus = z.literal(REDIRECT_STATUSES, 'Choose one of 301, 302, 303, 307 and 308.')

export const MAX_DESTINATION_SENTENCE = 'The destination can be at most 8,000 characters.'

const editable = {
  destination,
  status: redirectStatus,
  query: z.enum(['discard', 'carry'], 'Choose “discard” or “carry”.'),
  queryConflict: z.enum(['destination', 'visitor', 'both'], 'Choose “destination”, “visitor” or “both”.'),
  title: line(300, 'The title'),
  note: z.string('The note must be text.').max(4000, 'The note can be at most 4,000 characters.'),
  tags: z.array(tagName, 'Tags must be a list.').max(30, 'At most 30 tags on one link.'),
  owner: line(120, 'The owner'),
  startsAt: moment.nullable(),
  endsAt: moment.nullable(),
  resumesAt: moment.nullable(),
  endedDestination: destination.nullable(),
  robots: headerValue.nullable(),
  referrerPolicy: z.enum(REFERRER_POLICIES, 'Choose one of the policies browsers know, like “no-referrer”.').nullable(),
}

/** Fields other things have in common with links. */
export const linkFields = {
  title: editable.title,
  note: editable.note,
  query: editable.query,
  queryConflict: editable.queryConflict,
}

export const reason = line(500, 'The reason').optional()

/** A link to be made. Without a slug, a random one is drawn. */
export const linkCreate = z.strictObject({
  domain: z.string('Name the domain, like “ansl.example”.').min(1, 'Name the domain, like “ansl.example”.'),
  slug: slug.optional(),
  destination: editable.destination,
  status: editable.status.optional(),
  query: editable.query.default('discard'),
  queryConflict: editable.queryConflict.default('destination'),
  title: editable.title.default(''),
  note: editable.note.default(''),
  tags: editable.tags.default([]),
  owner: editable.owner.default(''),
  startsAt: editable.startsAt.default(null),
  endsAt: editable.endsAt.default(null),
  endedDestination: editable.endedDestination.default(null),
  robots: editable.robots.default(null),
  referrerPolicy: editable.referrerPolicy.default(null),
  reason,
})

/** What may be changed on a link. A slug is printed on things: the old one goes on forwarding unless `forward` is false. */
export const linkPatch = z
  .strictObject({ ...editable, standing: z.enum(DECIDED_STANDINGS, 'Choose “live”, “paused”, “ended” or “retired”.') })
  .partial()
  .extend({ slug: slug.optional(), forward: z.boolean('Say true or false.').optional(), reason })

/** A link as the API tells it. */
export const link = z.object({
  id: z.int(),
  domain: z.string(),
  slug: z.string(),
  address: z.string(),
  destination: z.string(),
  status: redirectStatus,
  query: editable.query,
  queryConflict: editable.queryConflict,
  title: z.string(),
  note: z.string(),
  tags: z.array(z.string()),
  owner: z.string(),
  standing: z.enum([...DECIDED_STANDINGS, 'scheduled']),
  waiting: z.boolean(),
  /** Kept although it breaks a slug rule. */
  exception: z.boolean(),
  /** The link whose answer this slug gives; null for a link of its own. */
  forwardsTo: z.int().nullable(),
  /** Slugs that forward to it; without an address of their own where they are the same address now. */
  forwarding: z
    .array(z.object({ id: z.int(), address: z.string(), slug: z.string(), same: z.boolean(), visits28: z.int() }))
    .optional(),
  placements: z.array(placement).optional(),
  startsAt: z.string().nullable(),
  endsAt: z.string().nullable(),
  resumesAt: z.string().nullable(),
  endedDestination: z.string().nullable(),
  robots: z.string().nullable(),
  referrerPolicy: z.string().nullable(),
  visits28: z.int(),
  daily: z.array(z.int()).optional(),
  version: z.int(),
  createdAt: z.string(),
  updatedAt: z.string(),
})

export const LINK_SORTS = ['visits', 'changed', 'made', 'address'] as const

/** What narrows a list of links. */
export const linkFilters = z.object({
  q: z.string().max(300, 'Search for at most 300 characters.').optional(),
  domain: z.string().optional(),
  standing: z
    .enum([...DECIDED_STANDINGS, 'scheduled'], 'Choose a standing: live, scheduled, paused, ended or retired.')
    .optional(),
  redirect: z.enum(['temporary', 'permanent'], 'Choose “temporary” or “permanent”.').optional(),
  tag: z.string().optional(),
  owner: z.string().optional(),
  destination: z.string().optional(),
})

export const linkListQuery = linkFilters.extend({
  sort: z.enum(LINK_SORTS, 'Sort by “visits”, “changed”, “made” or “address”.').default('visits'),
  cursor: z.string().optional(),
  limit: z.coerce
    .number('Give a number from 1 to 200.')
    .int()
    .min(1, 'Give a number from 1 to 200.')
    .max(200, 'Give a number from 1 to 200.')
    .default(50),
})

export type Link = z.infer<typeof link>
export type LinkCreate = z.output<typeof linkCreate>
export type LinkPatch = z.output<typeof linkPatch>
export type LinkFilters = z.infer<typeof linkFilters>
export type LinkListQuery = z.output<typeof linkListQuery>
