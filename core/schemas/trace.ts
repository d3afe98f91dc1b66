import { z } from 'zod'

export const traceRequest = z.strictObject({
  address: z.string('Give a short address, like ansl.example/fares.').min(1, 'Give a short address, like ansl.example/fares.').max(9000, 'At most 9,000 characters.'),
  as: z
    .strictObject({
      method: z.enum(['GET', 'HEAD', 'POST', 'OPTIONS', 'TRACE'], 'Choose GET, HEAD, POST, OPTIONS or TRACE.').default('GET'),
      at: z.iso.datetime({ offset: true, error: 'Give a moment like 2027-03-01T08:00:00Z.' }).nullable().default(null),
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
})
export type Trace = z.infer<typeof trace>

export const slugCheckRequest = z.strictObject({ domain: z.string().min(1, 'Name the domain.'), slug: z.string('Give a slug.') })
export const slugCheck = z.object({
  state: z.enum(['free', 'taken', 'refused']),
  reasons: z.array(z.string()),
  link: z.object({ id: z.int(), address: z.string(), title: z.string(), standing: z.string() }).nullable(),
})
export type SlugCheck = z.infer<typeof slugCheck>
