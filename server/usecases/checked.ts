import type { z } from 'zod'
import { Problem, type FieldFault } from './problem'

/** A value as a schema reads it. Throws 422 with a JSON Pointer (RFC 6901) and a sentence for each faulty field. */
export function checked<Schema extends z.ZodType>(schema: Schema, value: unknown): z.output<Schema> {
  const result = schema.safeParse(value)
  if (result.success) return result.data
  const errors: FieldFault[] = result.error.issues.map((issue) => ({
    pointer: '/' + (issue.code === 'unrecognized_keys' ? [...issue.path, issue.keys[0]!] : issue.path).join('/'),
    detail: issue.code === 'unrecognized_keys' ? `There is no field “${issue.keys[0]}” here.` : issue.message,
  }))
  const detail = errors.map((fault) => `${fault.pointer.slice(1) || 'body'}: ${fault.detail}`).join(' ')
  throw new Problem(422, errors.length === 1 ? 'Invalid field' : 'Invalid fields', detail, errors)
}
