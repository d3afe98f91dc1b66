import { z } from 'zod'
import { RELATIONS } from '../patterns/node'
import { creatableOf, schemasOf } from '../rows/field'
import { REDIRECT_FIELDS } from '../rows/redirect'
import { patternSchema, RULE_FIELDS, syntaxSchema } from '../rows/rule'
import { acceptLanguage, domainName, reason, yesOrNo } from './values'

const editable = schemasOf(RULE_FIELDS)
const { status, ...creatable } = creatableOf(RULE_FIELDS, ['pattern', 'destination', 'status'])

export const ruleCreate = z.strictObject({
  ...creatable,
  domain: domainName,
  /** The domain's usual one where it is not said. */
  status: status.optional(),
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
  syntax: syntaxSchema,
  pattern: z.string(),
  destination: z.string(),
  ...schemasOf(REDIRECT_FIELDS),
  condition: editable.condition,
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
  a: patternSchema,
  b: patternSchema,
  syntax: syntaxSchema.default('path'),
  capitalsMatter: yesOrNo.default(false),
  trailingSlashMatters: yesOrNo.default(false),
})
export const patternComparison = z.object({
  relation: z.enum(RELATIONS),
  witness: z.string().nullable(),
  onlyA: z.string().nullable(),
  onlyB: z.string().nullable(),
})

export const conflictView = z.object({
  key: z.string(),
  kind: z.string(),
  subject: z.string(),
  severity: z.enum(['broken', 'doubtful']),
  headline: z.string(),
  sentence: z.string(),
  impact: z.number(),
  witness: z.string().nullable(),
})
export type ConflictView = z.infer<typeof conflictView>

/** So many rules of one domain are asked, proved apart and listed together. */
export const MAX_RULES = 2000

/** Rules as they would be: an order, or one that is new or changed among the others. Nothing is stored. */
export const rulesPreview = z.strictObject({
  domain: domainName,
  /** All rules in their order; one with an id stands for that rule. */
  rules: z
    .array(
      z.strictObject({
        ...creatable,
        id: z.int().optional(),
        status: status.optional(),
        // While a rule is typed, where it leads may not be said yet.
        destination: z.string().max(8000).default(''),
      }),
    )
    .max(MAX_RULES),
  /** The rule in question, counted from 1; without one the order as a whole is looked at. */
  mine: z.int().min(1).optional(),
})
export type RulesPreview = z.output<typeof rulesPreview>

const ruleMeeting = z.object({
  /** Counted from 1. */
  rule: z.int(),
  pattern: z.string(),
  /** Whether the earlier of the two takes every address of the later. */
  whole: z.boolean(),
  /** An address both match. */
  witness: z.string(),
})

export const rulesPreviewed = z.object({
  faults: z.array(z.object({ rule: z.int(), sentence: z.string() })),
  /** What the rule in question matches; null without one, where it is switched off or cannot be compared. */
  reach: z
    .object({
      /** Links whose address it matches; they answer first. */
      links: z.int(),
      linkExamples: z.array(z.string()),
      before: z.array(ruleMeeting),
      after: z.array(ruleMeeting),
      /** An address that comes to it; null where none was found. */
      example: z.string().nullable(),
    })
    .nullable(),
  /** Conflicts that would come, and those that would go. */
  added: z.array(conflictView),
  removed: z.array(conflictView),
})
export type RulesPreviewed = z.infer<typeof rulesPreviewed>

export const ruleFinding = z.object({
  rule: z.int(),
  kind: z.enum(['hidden', 'overlapping']),
  /** Ids of the rules it is with: those that answer its addresses, or the one after it that it overlaps. */
  others: z.array(z.int()),
  witness: z.string().nullable(),
  /** Before which rule it would apply; null where moving it there leaves another without addresses. */
  moveBefore: z.int().nullable(),
})
export type RuleFinding = z.infer<typeof ruleFinding>

const MAX_ADDRESSES = 500
export const patternTest = z.strictObject({
  /** Where it is not said: that of the first address which names one of ours, else the first domain. */
  domain: domainName.optional(),
  /** The rules in their order; those of the domain where none are given. One with an id stands for that rule. */
  rules: z
    .array(z.strictObject({ ...creatable, id: z.int().optional(), status: status.optional() }))
    .max(1000)
    .optional(),
  addresses: z
    .array(z.string().trim().max(9000, 'At most 9,000 characters.'))
    .max(MAX_ADDRESSES, `At most ${MAX_ADDRESSES} addresses at once.`),
  acceptLanguage,
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
      /** Rules that match as well and come later, counted from 1. */
      later: z.array(z.int()),
      link: z.string().nullable(),
      sentence: z.string(),
    }),
  ),
  faults: z.array(z.object({ rule: z.int(), sentence: z.string() })),
})
export type PatternTested = z.infer<typeof patternTested>

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
