import { z } from 'zod'
import { FATES } from '../table/fates'
import { ruleCreate } from './rule'
import { slugDecision } from './slug-rules'
import { moment, yesOrNo } from './values'

/** What past requests are put to: the table as it is, and as it would be. */
export const replayRequest = z
  .strictObject({
    /** A proposal, as it would change the table. */
    proposal: z.int().min(1).optional(),
    /** A file that was brought in, as it is decided. */
    intake: z.int().min(1).optional(),
    /** A domain's rules as they would be. */
    rules: z
      .strictObject({
        domain: z.string('Name the domain.'),
        items: z.array(ruleCreate.omit({ domain: true, position: true, reason: true })).max(2000),
      })
      .optional(),
    /** A domain as it would read addresses, with what becomes of links that its new slug rules do not fit. */
    slugs: z
      .strictObject({
        domain: z.string('Name the domain.'),
        capitalsMatter: yesOrNo,
        trailingSlashMatters: yesOrNo,
        decisions: z.record(z.string().regex(/^\d+$/, 'Name links by their numbers.'), slugDecision).default({}),
      })
      .optional(),
    /** Two moments of the ledger: what would have happened. */
    moments: z.strictObject({ before: moment, after: moment.nullable().default(null) }).optional(),
    from: moment.optional(),
    to: moment.optional(),
    days: z
      .int('Give days from 1 to 90.')
      .min(1, 'Give days from 1 to 90.')
      .max(90, 'Give days from 1 to 90.')
      .default(28),
  })
  .refine(
    ({ proposal, intake, rules, slugs, moments }) =>
      [proposal, intake, rules, slugs, moments].filter((one) => one !== undefined).length === 1,
    'Say what to replay against in exactly one way: “proposal”, “intake”, “rules”, “slugs” or “moments”.',
  )
export type ReplayRequest = z.output<typeof replayRequest>

const seen = z.object({ status: z.int(), found: z.boolean(), end: z.string().nullable(), loops: z.boolean() })
const example = z.object({ host: z.string(), target: z.string(), count: z.int(), before: seen, after: seen })
const fate = z.enum(FATES)

export const replay = z.object({
  id: z.int(),
  state: z.enum(['running', 'done', 'cancelled', 'failed']),
  /** Requests to put, and put so far. */
  total: z.int(),
  done: z.int(),
  from: z.string(),
  to: z.string(),
  days: z.number(),
  requests: z.int(),
  counts: z.record(fate, z.int()),
  examples: z.record(fate, z.array(example)),
  problem: z.string(),
  askedAt: z.string(),
  endedAt: z.string().nullable(),
})
export type ReplayView = z.infer<typeof replay>
