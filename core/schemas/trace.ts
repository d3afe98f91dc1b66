import { z } from 'zod'
import { acceptLanguage, moment } from './values'

export const traceRequest = z.strictObject({
  address: z
    .string('Give a short address, like ansl.example/fares.')
    .min(1, 'Give a short address, like ansl.example/fares.')
    .max(9000, 'At most 9,000 characters.'),
  as: z
    .strictObject({
      method: z
        .enum(['GET', 'HEAD', 'POST', 'OPTIONS', 'TRACE'], 'Choose GET, HEAD, POST, OPTIONS or TRACE.')
        .default('GET'),
      at: moment.nullable().default(null),
      acceptLanguage,
    })
    .prefault({}),
})

const state = z.enum(['sound', 'doubtful', 'broken', 'idle'])

export const trace = z.object({
  address: z.string(),
  revision: z.int(),
  at: z.string(),
  status: z.int(),
  location: z.string().nullable(),
  headers: z.array(z.tuple([z.string(), z.string()])),
  verdict: z.object({ state, sentence: z.string() }),
  steps: z.array(z.object({ name: z.string(), state, value: z.string(), sentence: z.string() })),
  linkId: z.int().nullable(),
  ruleId: z.int().nullable(),
  /** What mended the request, where it was not found as it came. */
  mended: z.string().nullable(),
})
export type Trace = z.infer<typeof trace>
