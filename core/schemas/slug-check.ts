import { z } from 'zod'

export const slugCheckRequest = z.strictObject({
  domain: z.string().min(1, 'Name the domain.'),
  slug: z.string('Give a slug.').max(2000, 'At most 2,000 characters.'),
  /** What suggestions are made from. */
  title: z.string().max(300).default(''),
  destination: z.string().max(9000).default(''),
  /** The link that is being renamed, which is not in its own way. */
  link: z.int().optional(),
})
export type SlugCheckRequest = z.output<typeof slugCheckRequest>

export const slugCheck = z.object({
  state: z.enum(['free', 'taken', 'refused']),
  reasons: z.array(z.string()),
  link: z.object({ id: z.int(), address: z.string(), title: z.string(), standing: z.string() }).nullable(),
  /** Links it could be mistaken for, busiest first. */
  similar: z.array(
    z.object({
      id: z.int(),
      address: z.string(),
      destination: z.string(),
      how: z.enum(['looks-alike', 'one-slip']),
      visits28: z.int(),
    }),
  ),
  suggestions: z.array(z.object({ slug: z.string(), score: z.number() })),
  shape: z.array(z.object({ kind: z.string(), sentence: z.string() })),
  /** As it is spelled over the telephone. */
  spoken: z.string(),
  /** The rule that serves the address as long as no link has it. */
  rule: z.object({ id: z.int(), pattern: z.string(), location: z.string() }).nullable(),
  /** A free random slug by the domain's rules; none where they allow none. */
  random: z.string().nullable(),
})
export type SlugCheck = z.infer<typeof slugCheck>
