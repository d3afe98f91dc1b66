import { z } from 'zod'

/** Problem details (RFC 9457); `errors` holds one JSON Pointer (RFC 6901) a faulty field. */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  errors: z.array(z.object({ pointer: z.string(), detail: z.string() })).optional(),
})
export type ProblemDetails = z.infer<typeof problem> & Record<string, unknown>
