import { z } from 'zod'
import { DECIDED_STANDINGS, LINK_FIELDS } from '../rows/link'
import { creatableOf, schemasOf } from '../rows/field'
import { REDIRECT_FIELDS } from '../rows/redirect'
import { placement } from './placement'
import { linkTarget } from './target'
import { line } from './line'
import { domainName, reason, slug, yesOrNo } from './values'

export const tagName = line(60, 'A tag').min(1, 'Enter a tag of at least 1 character.')

const editable = {
  ...schemasOf(LINK_FIELDS),
  tags: z.array(tagName, 'Tags must be a list.').max(30, 'Too many tags: the maximum is 30 per link.'),
}

/** A link to be made. Without a slug, a random one is drawn. */
const { resumesAt: _resumesAt, status, ...creatable } = creatableOf(LINK_FIELDS, ['destination', 'status'])
export const linkCreate = z.strictObject({
  ...creatable,
  domain: domainName,
  slug: slug.optional(),
  /** The domain's usual one where it is not said. */
  status: status.optional(),
  tags: editable.tags.default([]),
  /** Further slugs on the same domain that lead to it. */
  aliases: z.array(slug, 'Give further slugs as a list.').max(50, 'At most 50 further slugs at once.').default([]),
  /** Whether strangers are never told of it; so it is for a random slug where it is not said. */
  unlisted: yesOrNo.optional(),
  reason,
})

/** Another slug for a link; on the link’s own domain where none is named. */
export const aliasCreate = z.strictObject({ slug, domain: domainName.optional(), reason })
export type AliasCreate = z.output<typeof aliasCreate>

/**
 * What may be changed on a link. A slug is printed on things: the old one goes on forwarding unless `forward` is false.
 */
export const linkPatch = z
  .strictObject({ ...editable, standing: z.enum(DECIDED_STANDINGS, 'Choose “live”, “paused”, “ended” or “retired”.') })
  .partial()
  .extend({ slug: slug.optional(), forward: yesOrNo.optional(), reason })

/** A link as the API tells it. */
export const link = z.object({
  id: z.int(),
  domain: z.string(),
  slug: z.string(),
  address: z.string(),
  destination: z.string(),
  ...schemasOf(REDIRECT_FIELDS),
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
  /** Strangers who mistype another address are never told of it. */
  unlisted: z.boolean(),
  /** Further slugs that lead to it; without an address of their own where they are the same address now. */
  aliases: z
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
  /** How its destination stands; null before the first check. */
  target: linkTarget.nullable().default(null),
  daily: z.array(z.int()).optional(),
  version: z.int(),
  createdAt: z.string(),
  updatedAt: z.string(),
})

export const LINK_SORTS = ['visits', 'changed', 'made', 'address', 'target'] as const

const days = z.coerce
  .number('Enter a number of days from 1 to 3,660.')
  .int()
  .min(1, 'Enter a number of days from 1 to 3,660.')
  .max(3660, 'Enter a number of days from 1 to 3,660.')

/** What narrows a list of links. */
export const linkFilters = z.object({
  /** Words that must all be found, or addresses, one a line, of which any is found. */
  q: z.string().max(4000, 'Search for at most 4,000 characters.').optional(),
  domain: z.string().optional(),
  standing: z
    .enum([...DECIDED_STANDINGS, 'scheduled'], 'Choose a standing: live, scheduled, paused, ended or retired.')
    .optional(),
  redirect: z.enum(['temporary', 'permanent'], 'Choose “temporary” or “permanent”.').optional(),
  /** How the destination stands. */
  target: z
    .enum(
      ['sound', 'doubtful', 'broken', 'faulty', 'unknown'],
      'Choose “sound”, “doubtful”, “broken”, “faulty” (doubtful or broken) or “unknown”.',
    )
    .optional(),
  /** Still working, and ending within so many days. */
  endsWithin: days.optional(),
  /** Changed within so many days. */
  changedWithin: days.optional(),
  /** Whether it was ever visited. */
  visited: z.literal('never', 'Choose “never”.').optional(),
  /** On a domain that is not open yet. */
  waiting: z.literal('1', 'Choose “1”.').optional(),
  tag: z.string().optional(),
  owner: z.string().optional(),
  destination: z.string().optional(),
})

export const linkListQuery = linkFilters.extend({
  /** A short address as people paste it: the links it belongs to, by a slug of their own or a further one. */
  address: z.string().max(4000, 'The address must have at most 4,000 characters.').optional(),
  sort: z.enum(LINK_SORTS, 'Sort by “visits”, “changed”, “made”, “address” or “target”.').default('visits'),
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
