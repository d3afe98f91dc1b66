import { z } from 'zod'
import { conditionSchema, type Condition } from '../conditions'
import { MAX_PATTERN, SYNTAXES } from '../patterns/node'
import { MAX_DESTINATION_SENTENCE, note, slug, title, yesOrNo } from '../schemas/values'
import * as field from './field'
import type { RowOf } from './field'
import { REDIRECT_FIELDS } from './redirect'

const ALL = ['table', 'survey', 'ledger'] as const

export const patternSchema = z
  .string('Give a pattern, like /stop/:id.')
  .trim()
  .min(1, 'Give a pattern, like /stop/:id.')
  .max(MAX_PATTERN, `A pattern can be at most ${MAX_PATTERN} characters.`)
export const syntaxSchema = z.enum(SYNTAXES, 'Choose “path” or “expression”.')

/** Judged by the use case, which knows what the pattern captures. */
const template = z
  .string('Give the long address it leads to.')
  .trim()
  .min(1, 'Give the long address it leads to, like https://www.example/stops/{id}.')
  .max(8000, MAX_DESTINATION_SENTENCE)

/** A redirect rule for a family of addresses, field by field. */
export const RULE_FIELDS = {
  id: field.id({ readers: ['table', 'survey'] }),
  domainId: field.reference({ readers: ALL }),
  /** Rules are asked in ascending order. */
  position: field.count({ readers: ALL }),
  title: field.text(300)({ readers: ['ledger'], fallback: '', schema: title }),
  syntax: field.oneOf(SYNTAXES)({ readers: ALL, fallback: 'path', schema: syntaxSchema }),
  pattern: field.exactText(1000)({ readers: ALL, schema: patternSchema }),
  /** A URI Template over the pattern's captures. */
  destination: field.longText({ readers: ALL, schema: template }),
  ...REDIRECT_FIELDS,
  /** What must hold of the visitor besides the address. */
  condition: field.json<Condition>()({
    column: 'visitor_condition',
    readers: ALL,
    fallback: [],
    schema: conditionSchema,
  }),
  /** Slugs it leaves alone, as they were given; which addresses they are follows from how the domain reads slugs. */
  except: field.json<string[]>()({
    column: 'except_slugs',
    readers: ALL,
    fallback: [],
    schema: z.array(slug).max(200, 'At most 200 single addresses can be left alone by one rule.'),
  }),
  active: field.flag({ readers: ['survey', 'ledger'], fallback: true, schema: yesOrNo }),
  note: field.longText({ readers: ['ledger'], fallback: '', schema: note }),
  visits28: field.count({ readers: ['survey'], fallback: 0 }),
  version: field.count({ fallback: 1 }),
  createdAt: field.moment(),
  updatedAt: field.moment(),
}

/** A rule as the table needs it. */
export type RuleRow = RowOf<typeof RULE_FIELDS, 'table'>
/** A rule as the finders need it. */
export type SurveyRule = RowOf<typeof RULE_FIELDS, 'survey'>
