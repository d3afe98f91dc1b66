import { z } from 'zod'
import { domainName, moment } from './values'

/** What is taken out. */
export const exportQuery = z.object({
  domain: domainName,
  /** Only links with this tag; rules and fallbacks stay behind then. */
  tag: z.string().trim().min(1).max(60).optional(),
  /** Only these links, by their numbers; rules and fallbacks stay behind then. */
  links: z
    .string()
    .regex(/^[1-9]\d{0,15}(?:,[1-9]\d{0,15})*$/, 'Name links by their numbers, with commas between.')
    .max(7000, 'Too many links for one address; give them a tag and take that.')
    .optional(),
  /** As it stood at a moment; now where it is not said. */
  at: moment.optional(),
  /** One of several files, by its name, instead of all packed. */
  part: z.string().max(300).optional(),
})
export type ExportQuery = z.output<typeof exportQuery>

/** What a file would hold, before it is taken. */
export const exportAbout = z.object({
  format: z.string(),
  links: z.int(),
  rules: z.int(),
  files: z.array(z.object({ name: z.string(), octets: z.int() })),
  cannot: z.array(z.object({ code: z.string(), sentence: z.string(), subjects: z.array(z.string()), count: z.int() })),
  steps: z.array(z.string()),
})
export type ExportAbout = z.infer<typeof exportAbout>
