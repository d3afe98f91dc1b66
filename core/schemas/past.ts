import { z } from 'zod'
import { moment } from './values'

/** An address at a moment of the past. */
export const pastQuery = z.object({
  address: z
    .string('Give an address, like ansl.example/fares.')
    .min(1, 'Give an address, like ansl.example/fares.')
    .max(4000),
  at: moment,
  acceptLanguage: z.string().trim().max(1000, 'At most 1,000 characters.').default(''),
})
export type PastQuery = z.output<typeof pastQuery>

export const pastAnswer = z.object({
  address: z.string(),
  at: z.string(),
  status: z.int(),
  location: z.string().nullable(),
  /** What answered: a link, a rule, a fallback, or nothing. */
  by: z.enum(['link', 'rule', 'root', 'not-found', 'none']),
  link: z.int().nullable(),
  rule: z.int().nullable(),
  sentence: z.string(),
  /** The entry of the ledger by which it came to answer so. */
  decided: z
    .object({ entry: z.int(), at: z.string(), actor: z.string(), action: z.string(), reason: z.string() })
    .nullable(),
})
export type PastAnswer = z.infer<typeof pastAnswer>
