import { z } from 'zod'
import { SUBJECT_KINDS } from '../ledger/actions'
import { ROLES } from './roles'
import { moment, reason } from './values'

export const ledgerEntry = z.object({
  id: z.int(),
  revision: z.int(),
  at: z.string(),
  actor: z.string(),
  action: z.string(),
  subject: z.object({ kind: z.enum(SUBJECT_KINDS), id: z.int(), label: z.string() }),
  reason: z.string(),
  before: z.record(z.string(), z.unknown()).nullable(),
  after: z.record(z.string(), z.unknown()).nullable(),
  undoes: z.int().nullable(),
  undoneBy: z.int().nullable(),
  undoable: z.boolean(),
  /** The least role that may undo it; null where it cannot be undone. */
  undoRole: z.enum(ROLES).nullable(),
  /** What came of it since, where that is counted. */
  since: z.string().optional(),
})
export type LedgerEntry = z.infer<typeof ledgerEntry>

export const ledgerQuery = z.object({
  kind: z.enum(SUBJECT_KINDS).optional(),
  q: z.string().max(200).optional(),
  cursor: z.string().regex(/^\d+$/, 'Use the cursor of the page before.').optional(),
  limit: z.coerce
    .number()
    .int()
    .min(1, 'Give a number from 1 to 200.')
    .max(200, 'Give a number from 1 to 200.')
    .default(50),
})
export type LedgerQuery = z.output<typeof ledgerQuery>

/** Two moments of the past, and what of the register: all of it, a link, or a domain with its rules. */
export const compareQuery = z.object({
  from: moment,
  to: moment,
  link: z.coerce.number('link: a number.').int().min(1).optional(),
  domain: z.coerce.number('domain: a number.').int().min(1).optional(),
})
export type CompareQuery = z.output<typeof compareQuery>

export const comparedSubject = z.object({
  kind: z.enum(['link', 'rule', 'domain']),
  id: z.int(),
  label: z.string(),
  /** Null where it was not there at that moment. */
  before: z.record(z.string(), z.unknown()).nullable(),
  after: z.record(z.string(), z.unknown()).nullable(),
})
export type ComparedSubject = z.infer<typeof comparedSubject>
export const comparison = z.object({
  from: z.string(),
  to: z.string(),
  /** How many differ; of very many only the first are told. */
  total: z.int(),
  items: z.array(comparedSubject),
})
export type Comparison = z.infer<typeof comparison>

export const restoreRequest = z.strictObject({ at: moment, reason })
export type RestoreRequest = z.output<typeof restoreRequest>

export const ledgerExportQuery = ledgerQuery.pick({ kind: true, q: true })

export const undoRequest = z.strictObject({
  overwrite: z.boolean().default(false),
  reason: z.string().trim().max(500).optional(),
})
