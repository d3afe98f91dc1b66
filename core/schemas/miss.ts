import { z } from 'zod'
import { destination, domainName, reason } from './values'

/** What was most likely meant by a path, as it is kept. */
export const missCandidate = z.object({
  link: z.int(),
  slugId: z.int(),
  domainId: z.int(),
  /** The address that came nearest, in canonical form. */
  canonical: z.string(),
  address: z.string(),
  title: z.string(),
  destination: z.string(),
  live: z.boolean(),
  /** From 0 to 1. */
  probability: z.number(),
  because: z.array(z.string()),
})
export type MissCandidate = z.infer<typeof missCandidate>

export const missRanking = z.object({
  candidates: z.array(missCandidate),
  /** The probability that nothing of ours was meant. */
  none: z.number(),
})
export type MissRanking = z.infer<typeof missRanking>

export const MISS_STATES = ['open', 'answered', 'noise'] as const

const trend = z.enum(['new', 'rising', 'steady', 'falling', 'over'])

export const miss = z.object({
  id: z.int(),
  domain: z.object({ id: z.int(), host: z.string() }),
  path: z.string(),
  address: z.string(),
  state: z.enum(MISS_STATES),
  /** The link behind an address that is gone. */
  gone: z.object({ id: z.int(), standing: z.string() }).nullable(),
  firstAt: z.string(),
  lastAt: z.string(),
  /** Of the last 28 days. */
  requests28: z.int(),
  visitors28: z.int(),
  /** Visitors a day of the last 28 days, oldest first. */
  daily: z.array(z.int()),
  trend,
  noise: z.string().nullable(),
  ranking: missRanking.nullable(),
  answeredBy: z.object({ by: z.string(), address: z.string(), at: z.string(), served: z.int() }).nullable(),
  /** The case that tells of it, where there is one. */
  caseId: z.int().nullable(),
  version: z.int(),
})
export type Miss = z.infer<typeof miss>

export const missReferrer = z.object({
  page: z.string(),
  requests: z.int(),
  lastAt: z.string(),
  toldAt: z.string().nullable(),
  toldBy: z.string().nullable(),
  letter: z.object({ subject: z.string(), text: z.string() }),
})

export const missFamily = z.object({
  shape: z.string(),
  pattern: z.string(),
  destination: z.string().nullable(),
  members: z.array(z.object({ id: z.int(), path: z.string(), visitors: z.int() })),
  /** What the rule would be in conflict with; empty where it clashes with nothing. */
  clashes: z.array(z.object({ headline: z.string(), sentence: z.string(), witness: z.string().nullable() })),
})
export type MissFamily = z.infer<typeof missFamily>

/** One miss with all that is known of it. */
export const missDetail = miss.extend({
  referrers: z.array(missReferrer),
  countries: z.array(z.object({ country: z.string(), requests: z.int() })),
  /** What visitors found within ten minutes. */
  followed: z.array(z.object({ link: z.int(), address: z.string(), visitors: z.int() })),
  family: missFamily.nullable(),
})
export type MissDetail = z.infer<typeof missDetail>

export const MISS_SORTS = ['visitors', 'last', 'path'] as const

export const missListQuery = z.object({
  domain: z.coerce.number('Give the number of a domain.').int('Give the number of a domain.').optional(),
  state: z.enum(MISS_STATES, 'Choose open, answered or noise.').default('open'),
  q: z.string().max(300, 'Search for at most 300 characters.').optional(),
  sort: z.enum(MISS_SORTS, 'Sort by “visitors”, “last” or “path”.').default('visitors'),
  cursor: z.string().max(2000).optional(),
  limit: z.coerce
    .number('Give a number from 1 to 200.')
    .int()
    .min(1, 'Give a number from 1 to 200.')
    .max(200, 'Give a number from 1 to 200.')
    .default(50),
})
export type MissListQuery = z.output<typeof missListQuery>

export const missList = z.object({
  items: z.array(miss),
  next: z.string().nullable(),
  counts: z.object({ open: z.int(), answered: z.int(), noise: z.int() }),
  /** Requests of the last 24 hours that were not stored one by one, as there were too many. */
  cut: z.int(),
})
export type MissList = z.infer<typeof missList>

export const rankRequest = z.strictObject({
  domain: domainName,
  path: z
    .string('Give the path that was typed, like /fraes.')
    .min(1, 'Give the path that was typed, like /fraes.')
    .max(2000, 'At most 2,000 characters.'),
})
export const rankAnswer = z.object({
  candidates: z.array(
    z.object({
      link: z.int(),
      address: z.string(),
      probability: z.number(),
      because: z.array(z.string()),
    }),
  ),
  none: z.number(),
})

/** What can be decided about a miss. */
export const MISS_DECISIONS = ['alias', 'link', 'back', 'gone', 'noise', 'noise-shape', 'open'] as const
export type MissDecision = (typeof MISS_DECISIONS)[number]

const missNumber = z.int('Give the number of a miss.').positive('Give the number of a miss.')

export const settleRequest = z.strictObject({
  items: z
    .array(
      z.strictObject({
        miss: missNumber,
        decision: z.enum(MISS_DECISIONS, 'Choose “alias”, “link”, “back”, “gone”, “noise”, “noise-shape” or “open”.'),
        /** The link that an alias leads to. */
        link: z.int('Give the number of a link.').positive('Give the number of a link.').optional(),
        /** Where a new link leads. */
        destination: destination.optional(),
      }),
      'Give what to settle as a list.',
    )
    .min(1, 'Give at least one miss to settle.')
    .max(200, 'At most 200 at once.')
    .refine((items) => new Set(items.map((item) => item.miss)).size === items.length, 'Name each miss once.'),
  /** Tells what would be done and changes nothing. */
  preview: z.boolean('Say true or false.').default(false),
  reason,
})
export type SettleRequest = z.output<typeof settleRequest>

export const settled = z.object({
  /** The ledger entry that undoes all of it; null for a preview. */
  entry: z.int().nullable(),
  items: z.array(
    z.object({
      miss: z.int(),
      address: z.string(),
      decision: z.enum(MISS_DECISIONS),
      sentence: z.string(),
      /** Visitors of the last 28 days it would have served. */
      visitors28: z.int(),
      /** Why it cannot be done; null where it can. */
      fault: z.string().nullable(),
    }),
  ),
  visitors28: z.int(),
})
export type Settled = z.infer<typeof settled>

export const tellRequest = z.strictObject({ page: z.string().min(1, 'Say which page’s owner was told.').max(400) })
