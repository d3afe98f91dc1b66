import { z } from 'zod'
import { MAX_PATTERN, RELATIONS, SYNTAXES } from '../patterns/node'
import { QUERY_MODES } from '../patterns/query-condition'
import { line } from './line'
import { linkFields, MAX_DESTINATION_SENTENCE, reason, redirectStatus, slug } from './link'

const domainName = z.string('Name the domain, like “ansl.example”.').min(1, 'Name the domain, like “ansl.example”.')
const pattern = z
  .string('Give a pattern, like /stop/:id.')
  .trim()
  .min(1, 'Give a pattern, like /stop/:id.')
  .max(MAX_PATTERN, `A pattern can be at most ${MAX_PATTERN} characters.`)
const syntax = z.enum(SYNTAXES, 'Choose “path” or “expression”.')
/** Judged by the use case, which knows what the pattern captures. */
const template = z
  .string('Give the long address it leads to.')
  .trim()
  .min(1, 'Give the long address it leads to, like https://www.example/stops/{id}.')
  .max(8000, MAX_DESTINATION_SENTENCE)

const editable = {
  title: linkFields.title,
  syntax,
  pattern,
  destination: template,
  status: redirectStatus,
  query: linkFields.query,
  queryConflict: linkFields.queryConflict,
  queryMode: z.enum(QUERY_MODES, 'Choose “ignore”, “contains” or “exactly”.'),
  queryText: line(500, 'The query condition').refine(
    (text) => !/[?#]/.test(text),
    'Write the parameters only, like line=4&lang; without “?” and “#”.',
  ),
  except: z.array(slug).max(200, 'At most 200 single addresses can be left alone by one rule.'),
  active: z.boolean('Say true or false.'),
  note: linkFields.note,
}

export const ruleCreate = z.strictObject({
  domain: domainName,
  title: editable.title.default(''),
  syntax: editable.syntax.default('path'),
  pattern,
  destination: template,
  status: redirectStatus.optional(),
  query: editable.query.default('discard'),
  queryConflict: editable.queryConflict.default('destination'),
  queryMode: editable.queryMode.default('ignore'),
  queryText: editable.queryText.default(''),
  except: editable.except.default([]),
  active: editable.active.default(true),
  note: editable.note.default(''),
  /** Where in the order it comes, counted from 1; last where it is not said. */
  position: z.int('Give a whole number.').min(1, 'Positions count from 1.').optional(),
  reason,
})
export type RuleCreate = z.output<typeof ruleCreate>

export const rulePatch = z.strictObject(editable).partial().extend({ reason })
export type RulePatch = z.output<typeof rulePatch>

export const rule = z.object({
  id: z.int(),
  domain: z.string(),
  position: z.int(),
  title: z.string(),
  syntax,
  pattern: z.string(),
  destination: z.string(),
  status: redirectStatus,
  query: editable.query,
  queryConflict: editable.queryConflict,
  queryMode: editable.queryMode,
  queryText: z.string(),
  except: z.array(z.string()),
  active: z.boolean(),
  note: z.string(),
  visits28: z.int(),
  version: z.int(),
  createdAt: z.string(),
  updatedAt: z.string(),
  /** What may be put into the destination. */
  captures: z.array(z.string()),
})
export type Rule = z.infer<typeof rule>

export const ruleListQuery = z.object({ domain: z.string().optional() })

/** `was` is the order one started from; another order there meanwhile is not overwritten. */
export const rulesReorder = z.strictObject({
  domain: domainName,
  order: z.array(z.int(), 'Give the ids of all rules in their new order.').max(5000),
  was: z.array(z.int(), 'Give the ids in the order you started from.').max(5000),
  reason,
})
export type RulesReorder = z.output<typeof rulesReorder>

export const patternCompare = z.strictObject({
  a: pattern,
  b: pattern,
  syntax: syntax.default('path'),
  capitalsMatter: z.boolean('Say true or false.').default(false),
  trailingSlashMatters: z.boolean('Say true or false.').default(false),
})
export const patternComparison = z.object({
  relation: z.enum(RELATIONS),
  witness: z.string().nullable(),
  onlyA: z.string().nullable(),
  onlyB: z.string().nullable(),
})

const MOST_ADDRESSES = 500
export const patternTest = z.strictObject({
  /** Where it is not said: that of the first address which names one of ours, else the first domain. */
  domain: domainName.optional(),
  /** The rules in their order; those of the domain where none are given. One with an id stands for that rule. */
  rules: z
    .array(
      z.strictObject({ id: z.int().optional(), ...editable }).partial({
        title: true,
        status: true,
        query: true,
        queryConflict: true,
        queryMode: true,
        queryText: true,
        except: true,
        active: true,
        note: true,
        syntax: true,
      }),
    )
    .max(1000)
    .optional(),
  addresses: z
    .array(z.string().trim().max(9000, 'At most 9,000 characters.'))
    .max(MOST_ADDRESSES, `At most ${MOST_ADDRESSES} addresses at once.`),
})
export type PatternTest = z.output<typeof patternTest>

export const patternTested = z.object({
  items: z.array(
    z.object({
      address: z.string(),
      status: z.int(),
      location: z.string().nullable(),
      by: z.enum(['link', 'rule', 'forgiveness', 'none']),
      /** Which of the rules, counted from 1. */
      rule: z.int().nullable(),
      link: z.string().nullable(),
      sentence: z.string(),
    }),
  ),
  faults: z.array(z.object({ rule: z.int(), sentence: z.string() })),
})
export type PatternTested = z.infer<typeof patternTested>

export const conflictTold = z.object({
  key: z.string(),
  kind: z.string(),
  subject: z.string(),
  severity: z.enum(['broken', 'doubtful']),
  headline: z.string(),
  sentence: z.string(),
  impact: z.number(),
  witness: z.string().nullable(),
})
export type ConflictTold = z.infer<typeof conflictTold>

export const SCAN_STATES = ['queued', 'running', 'done', 'cancelled', 'failed'] as const
export const conflictScan = z.object({
  id: z.int(),
  state: z.enum(SCAN_STATES),
  phase: z.string(),
  done: z.int(),
  total: z.int(),
  found: z.record(z.string(), z.int()),
  askedBy: z.string(),
  askedAt: z.string(),
  beganAt: z.string().nullable(),
  endedAt: z.string().nullable(),
  error: z.string().nullable(),
})
export type ConflictScan = z.infer<typeof conflictScan>
