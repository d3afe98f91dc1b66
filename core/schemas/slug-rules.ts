import { z } from 'zod'
import { ALPHABETS } from '../slugs/alphabets'
import { reason, slug } from './values'

const MAX_WORDS = 5000
const word = z
  .string()
  .trim()
  .min(1, 'An entry is empty.')
  .max(60, 'An entry can be at most 60 characters.')
  .regex(/^[^\s?#]+$/, 'An entry holds no spaces, “?” or “#”.')

const fields = {
  alphabet: z.enum(ALPHABETS, 'Choose “letters”, “lower”, “unmistakable” or “own”.'),
  ownAlphabet: z.string().trim().max(200, 'At most 200 characters.'),
  separators: z.string().max(4, 'At most the four separators “-”, “.”, “_” and “~”.'),
  otherScripts: z.boolean('Say true or false.'),
  minLength: z.int('Give a whole number.').min(1, 'At least 1.').max(200, 'At most 200.'),
  maxLength: z.int('Give a whole number.').min(1, 'At least 1.').max(200, 'At most 200.'),
  depth: z.int('Give a whole number.').min(1, 'At least 1.').max(20, 'At most 20.'),
  prefixes: z
    .array(word.transform((text) => text.replace(/^\/+|\/+$/g, '')).pipe(slug))
    .max(50, 'At most 50 family prefixes.'),
  reserved: z.array(word).max(MAX_WORDS, 'At most 5,000 reserved names.'),
  blocked: z.array(word).max(MAX_WORDS, 'At most 5,000 blocked words.'),
  randomLength: z.int('Give a whole number.').min(1, 'At least 1.').max(64, 'At most 64.'),
  randomUnmistakable: z.boolean('Say true or false.').default(true),
  capitalsMatter: z.boolean('Say true or false.'),
  trailingSlashMatters: z.boolean('Say true or false.'),
}

/** What becomes of one link that the new rules do not fit. */
export const slugDecision = z.discriminatedUnion(
  'do',
  [
    z.strictObject({ do: z.literal('keep') }),
    z.strictObject({ do: z.literal('rename'), slug }),
    z.strictObject({ do: z.literal('merge'), into: z.int('Give the number of the link it becomes part of.') }),
    z.strictObject({ do: z.literal('end') }),
  ],
  { error: 'Choose “keep”, “rename” with a slug, “merge” with “into”, or “end”.' },
)
export type SlugDecision = z.output<typeof slugDecision>

export const slugRulesPut = z.strictObject({
  ...fields,
  /** By the link's number. */
  decisions: z.record(z.string().regex(/^\d+$/, 'Name links by their numbers.'), slugDecision).default({}),
  /** For links that break the rules and are not named: all are kept as exceptions. */
  otherwise: z.literal('keep').optional(),
  reason,
})
export type SlugRulesPut = z.output<typeof slugRulesPut>

const odds = z.object({
  length: z.int(),
  capacity: z.number(),
  taken: z.number(),
  collision: z.number(),
  guesses: z.number(),
})
export const capacityView = z.object({
  /** How many addresses the rules allow, of up to 60 characters; exact, as text. */
  addresses: z.string(),
  taken: z.int(),
  alphabetSize: z.int(),
  random: odds,
  /** The shortest length that keeps the bounds; none where no length up to 64 does. */
  recommended: odds.nullable(),
})

export const slugRulesView = z.object({
  ...fields,
  prefixes: z.array(z.string()),
  capacity: capacityView,
  /** Words a list of the trade has, to begin with. */
  usualBlocked: z.array(z.string()),
  version: z.int(),
})
export type SlugRulesView = z.infer<typeof slugRulesView>

const affected = z.object({
  id: z.int(),
  address: z.string(),
  slug: z.string(),
  title: z.string(),
  destination: z.string(),
  standing: z.string(),
  visits28: z.int(),
  placements: z.object({ count: z.int(), copies: z.int(), fixed: z.boolean() }),
  sentences: z.array(z.string()),
  suggestion: z.string().nullable(),
})
export type AffectedLink = z.infer<typeof affected>

export const slugRulesReview = z.object({
  breaking: z.array(affected),
  breakingTotal: z.int(),
  merging: z.array(z.object({ address: z.string(), links: z.array(affected) })),
  mergingTotal: z.int(),
  capacity: capacityView,
})
export type SlugRulesReview = z.infer<typeof slugRulesReview>

export const slugRulesQuery = z.object({ dryRun: z.enum(['0', '1'], 'Give dryRun=1, or leave it out.').default('0') })

const mended = z.object({
  part: z.enum(['punctuation', 'capitals', 'look-alikes']),
  on: z.boolean(),
  /** Requests it has mended, and would have. */
  did: z.int(),
  would: z.int(),
  ambiguous: z.int(),
  examples: z.array(z.object({ path: z.string(), requests: z.int(), leadsTo: z.string().nullable() })),
})
export const forgivenessReport = z.object({ days: z.int(), missed: z.int(), paths: z.int(), parts: z.array(mended) })
export type ForgivenessReport = z.infer<typeof forgivenessReport>
