import { z } from 'zod'
import { reason } from './values'

/** One remedy of a plan: certain, tried, and undone with all others. */
export const roundFix = z.object({
  /** The case it settles, and the version that was read. */
  case: z.int(),
  version: z.int(),
  /** The short address it is about. */
  address: z.string(),
  /** What changes, before and after: destinations, or the slug that is added and the link it leads to. */
  before: z.string(),
  after: z.string(),
  /** Links that change; of a slug that is added, none. */
  links: z.int(),
  slugs: z.int(),
  /** Visits a day that its case affects. */
  visits: z.number(),
  /** How sure it is that this is meant, from 0 to 1. */
  sureness: z.number(),
  /** When it was tried. */
  verifiedAt: z.string(),
})

/** Remedies of one cause. */
export const roundGroup = z.object({
  key: z.string(),
  title: z.string(),
  why: z.string(),
  visits: z.number(),
  fixes: z.array(roundFix),
})

export const morningRound = z.object({
  groups: z.array(roundGroup),
  fixes: z.int(),
  visits: z.number(),
  links: z.int(),
  slugs: z.int(),
})

const MAX_FIXES = 500
export const roundApply = z.strictObject({
  fixes: z
    .array(z.strictObject({ case: z.int('Enter the number of a case.'), version: z.int('Enter its version.') }))
    .min(1, 'Choose at least one fix.')
    .max(MAX_FIXES, `The maximum is ${MAX_FIXES} fixes.`),
  reason,
})

export const roundApplied = z.object({
  /** Its entry in the ledger; none where nothing was left to apply. */
  entry: z.int().nullable(),
  applied: z.int(),
  links: z.int(),
  slugs: z.int(),
  /** When all gateways answer so; immediately where empty. */
  liveAt: z.string().nullable(),
  /** Fixes that stopped being true since the plan was read. */
  dropped: z.array(z.object({ case: z.int(), address: z.string(), why: z.string() })),
})

export type RoundFix = z.infer<typeof roundFix>
export type RoundGroup = z.infer<typeof roundGroup>
export type MorningRound = z.infer<typeof morningRound>
export type RoundApply = z.output<typeof roundApply>
export type RoundApplied = z.infer<typeof roundApplied>
