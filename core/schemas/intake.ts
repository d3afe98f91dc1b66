import { z } from 'zod'
import { COLUMN_FIELDS } from '../formats/format'
import { redirectStatus } from '../rows/redirect'
import { FATES } from '../table/fates'
import { line } from './line'
import { domainName, reason, yesOrNo } from './values'

/** What a text is called that was pasted. */
export const PASTED = 'Pasted text'

/** Longest file, or folder of files, in octets. */
export const MAX_FILE = 50_000_000

export const INTAKE_STATES = ['reading', 'ready', 'applying', 'applied', 'withdrawn', 'failed'] as const
/** What rows of a file come to: as they are found, before anybody decides. */
export const INTAKE_KINDS = ['new', 'rule', 'same', 'clash', 'refused'] as const
export type IntakeKind = (typeof INTAKE_KINDS)[number]
/** What a person decides of a row. */
export const INTAKE_DECISIONS = ['bring', 'paused', 'replace', 'leave'] as const
export type IntakeDecision = (typeof INTAKE_DECISIONS)[number]

const columns = z.partialRecord(z.enum(COLUMN_FIELDS), z.int().min(0).max(500))

/** How a file is to be read, beside its text. */
export const intakeOptions = z.strictObject({
  /** Addresses without a host are of this domain. */
  domain: domainName,
  /** The kind of file; found out where it is not said. */
  format: z.string().max(40).optional(),
  /** Where an Apache file applied. */
  context: z.enum(['folder', 'server'], 'Choose “folder” or “server”.').optional(),
  base: z
    .string()
    .regex(/^\/(?:[^\s?#]*\/)?$/, 'Write the folder with slashes, like /shop/.')
    .max(300)
    .optional(),
  /** Addresses of other hosts are brought to the domain as well. */
  everyHost: yesOrNo.default(false),
  columns: columns.optional(),
  /** What links without a status of their own get; the domain’s usual one where it is not said. */
  status: redirectStatus.optional(),
  tags: z.array(z.string().trim().min(1).max(60)).max(10, 'At most 10 tags.').default([]),
})
export type IntakeOptions = z.output<typeof intakeOptions>

/** What is said of a file in the query it is sent with. */
export const intakeQuery = z.object({
  name: z.string('Give the name of the file.').min(1, 'Give the name of the file.').max(300),
  domain: domainName,
  format: intakeOptions.shape.format,
  context: intakeOptions.shape.context,
  base: intakeOptions.shape.base,
  everyHost: z.enum(['0', '1'], 'Say 1 or 0.').optional(),
})
export type IntakeQuery = z.output<typeof intakeQuery>

/** A file that lies on a server. */
export const intakeFetch = z.strictObject({
  address: z
    .string('Give the address of the file.')
    .trim()
    .min(1, 'Give the address of the file.')
    .max(4000, 'An address of at most 4,000 characters.')
    .refine((text) => URL.canParse(text), 'Give a whole address, like https://www.example/redirects.conf.'),
  domain: domainName,
  format: intakeOptions.shape.format,
  context: intakeOptions.shape.context,
  base: intakeOptions.shape.base,
  everyHost: intakeOptions.shape.everyHost,
})
export type IntakeFetch = z.output<typeof intakeFetch>

/** Who is asked to look at a file, and what they are told. */
export const intakeAsk = z.strictObject({
  colleague: z
    .string('Give a colleague’s e-mail address.')
    .trim()
    .toLowerCase()
    .min(1, 'Give a colleague’s e-mail address.')
    .max(254),
  note: line(1000, 'The note').default(''),
})
export type IntakeAsk = z.output<typeof intakeAsk>

export const intakePatch = z
  .strictObject({
    options: intakeOptions,
    reason,
    /** Rules of one shape that are taken in place of their links, by their number. */
    families: z.array(z.int().min(0)).max(500),
  })
  .partial()
export type IntakePatch = z.output<typeof intakePatch>

export const intakeCounts = z.object({
  new: z.int(),
  rule: z.int(),
  same: z.int(),
  clash: z.int(),
  refused: z.int(),
  /** Links and rules that would be made, links that would be changed, and rows that still want a decision. */
  bring: z.int(),
  rules: z.int(),
  replace: z.int(),
  undecided: z.int(),
  /** Links that rules of one shape stand in for. */
  inRules: z.int(),
  checkFailed: z.int(),
})
export type IntakeCounts = z.infer<typeof intakeCounts>

/** A rule that says what many rows say. */
export const intakeFamily = z.object({
  number: z.int(),
  domain: z.string(),
  pattern: z.string(),
  destination: z.string(),
  status: z.int(),
  links: z.int(),
  exceptions: z.int(),
  takes: z.int().nullable(),
  beyond: z.string().nullable(),
  taken: z.boolean(),
})
export type IntakeFamily = z.infer<typeof intakeFamily>

/** Rows that conflict with one thing, or for one reason, and can be decided together. */
export const intakeCause = z.object({
  code: z.string(),
  /** The pattern of the rule they conflict with; empty where each conflicts with another link or no rule. */
  cause: z.string(),
  rows: z.int(),
  undecided: z.int(),
  /** What is decided for all of them; null where they differ or wait. */
  decision: z.enum(INTAKE_DECISIONS).nullable(),
  choices: z.array(z.enum(INTAKE_DECISIONS)),
})
export type IntakeCause = z.infer<typeof intakeCause>

export const intake = z.object({
  id: z.int(),
  state: z.enum(INTAKE_STATES),
  name: z.string(),
  /** The kind of file, and how it was read, in words. */
  format: z.string(),
  formatName: z.string(),
  readAs: z.string(),
  lines: z.int(),
  options: intakeOptions,
  /** The first rows of a table, to settle its columns by. */
  sample: z.array(z.array(z.string())),
  columns: columns,
  reason: z.string(),
  actor: z.string(),
  /** What is being done, and how far it is. */
  step: z.string(),
  total: z.int(),
  done: z.int(),
  counts: intakeCounts,
  families: z.array(intakeFamily),
  causes: z.array(intakeCause),
  remarks: z.array(z.object({ file: z.string(), line: z.int(), sentence: z.string() })),
  checks: z.object({ total: z.int(), done: z.int(), sound: z.int(), doubtful: z.int(), broken: z.int() }),
  problem: z.string(),
  entry: z.int().nullable(),
  /** Rows that answer for good where they stand so far: what visitors were told there they may keep for ever. */
  permanent: z.int(),
  /** The file of the same name that was brought in before. */
  follows: z.object({ id: z.int(), at: z.string() }).nullable(),
  madeAt: z.string(),
  endedAt: z.string().nullable(),
  version: z.int(),
})
export type Intake = z.infer<typeof intake>

export const intakeRow = z.object({
  position: z.int(),
  file: z.string(),
  line: z.int(),
  column: z.int(),
  kind: z.enum(INTAKE_KINDS),
  code: z.string(),
  /** The pattern of the rule it conflicts with. */
  cause: z.string(),
  decision: z.enum(INTAKE_DECISIONS).nullable(),
  /** What may be decided. */
  choices: z.array(z.enum(INTAKE_DECISIONS)),
  address: z.string(),
  destination: z.string().nullable(),
  status: z.int().nullable(),
  source: z.string(),
  why: z.string(),
  would: z.string(),
  link: z.int().nullable(),
  family: z.int().nullable(),
  check: z.object({ confidence: z.enum(['sound', 'doubtful', 'broken']), sentence: z.string() }).nullable(),
})
export type IntakeRow = z.infer<typeof intakeRow>

export const INTAKE_ROW_FILTERS = [...INTAKE_KINDS, 'differs', 'undecided', 'in-rules', 'check-failed'] as const

export const intakeRowsQuery = z.object({
  kind: z.enum(INTAKE_ROW_FILTERS, `Choose one of ${INTAKE_ROW_FILTERS.join(', ')}.`).optional(),
  cursor: z.string().regex(/^\d+$/, 'Use the “next” of the page before.').optional(),
  limit: z.coerce
    .number('Give a number from 1 to 500.')
    .int()
    .min(1, 'Give a number from 1 to 500.')
    .max(500, 'Give a number from 1 to 500.')
    .default(100),
})
export type IntakeRowsQuery = z.output<typeof intakeRowsQuery>

/** Decides of rows: those named, or all that were found the same. */
export const intakeRowsPatch = z
  .strictObject({
    positions: z.array(z.int()).max(1000, 'At most 1,000 rows at once.').optional(),
    /** All rows found so. */
    code: z.string().max(40).optional(),
    /** Of the rows with this code, those that conflict with this rule, or with none where empty. */
    cause: z.string().max(300).optional(),
    /** All rows of a kind. */
    kind: z.enum(['new', 'rule', 'clash'], 'Choose “new”, “rule” or “clash”.').optional(),
    decision: z.enum(INTAKE_DECISIONS, 'Choose bring, paused, replace or leave.').nullable(),
  })
  .refine(({ code, cause }) => cause === undefined || code !== undefined, {
    path: ['cause'],
    error: 'Send “cause” with the “code” it belongs to.',
  })
  .refine(({ positions, code, kind }) => [positions, code, kind].filter((one) => one !== undefined).length === 1, {
    error: 'Say which rows in one way: by “positions”, by “code” or by “kind”.',
  })
export type IntakeRowsPatch = z.output<typeof intakeRowsPatch>

/** What an old server's log comes to on a table with a file brought in. */
export const logReplay = z.object({
  lines: z.int(),
  /** Lines that are none of a log. */
  unread: z.int(),
  /** Requests for pages, and of these the ones that landed on the old server; of those, the ones that would be lost. */
  requests: z.int(),
  landedThere: z.int(),
  lostHere: z.int(),
  /** What becomes of all of them, beside the table as it is. */
  counts: z.record(z.enum(FATES), z.int()),
  /** Those lost that were asked most. */
  lost: z.array(z.object({ target: z.string(), count: z.int() })),
})
export type LogReplay = z.infer<typeof logReplay>
