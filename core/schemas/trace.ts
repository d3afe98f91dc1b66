import { z } from 'zod'
import { checkHop } from './target'
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
  /** Go on past our own answer to the final page, by asking, signed out. */
  follow: z.boolean('Say true or false.').default(false),
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
  /** The way past our own answer, where it was asked for and there is one. */
  onward: z
    .object({
      state,
      sentence: z.string(),
      final: z.string().nullable(),
      hops: z.array(checkHop),
      /** Each parameter on the way, and the hop that lost it, counting from 1; 0 is our own answer. */
      parameters: z.array(
        z.object({ name: z.string(), value: z.string(), lostAt: z.int().nullable(), by: z.string().nullable() }),
      ),
    })
    .nullable(),
  linkId: z.int().nullable(),
  ruleId: z.int().nullable(),
  /** What mended the request, where it was not found as it came. */
  mended: z.string().nullable(),
})
export type Trace = z.infer<typeof trace>
