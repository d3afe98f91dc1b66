import { z } from 'zod'
import { LANES, type LaneName } from '../docket/kinds'
import { reason, slug } from './values'

const LANE_NAMES = Object.keys(LANES) as [LaneName, ...LaneName[]]
export const CASE_STATES = ['open', 'set-aside', 'settled'] as const

/** This link alone, all links that lead to the same destination, or all that the same move explains. */
export const REMEDY_SCOPES = ['link', 'destination', 'move'] as const
export type RemedyScope = (typeof REMEDY_SCOPES)[number]

export const remedy = z.object({
  /** Stays the same as long as the remedy does the same. */
  id: z.string(),
  /** What is done, as a button would say. */
  title: z.string(),
  sentence: z.string(),
  /** How it was made sure that this helps; empty where it cannot be applied from here. */
  verified: z.string(),
  /** When it was tried, where that was not just now. */
  verifiedAt: z.string().nullable().default(null),
  /** Whether it can be applied here; others lead to `to`. */
  applies: z.boolean(),
  to: z.string().nullable(),
  /** Where visitors would be sent, where it sends them elsewhere. */
  destination: z.string().nullable().default(null),
  records: z.array(z.object({ name: z.string(), type: z.string(), ttl: z.int(), data: z.string() })),
  /** Whether applying it can be undone from the ledger. */
  undoable: z.boolean(),
  /** What applying it must be given: a reason, a slug, a long address. */
  asks: z.array(z.enum(['reason', 'slug', 'destination'])).default([]),
  /** The slug it proposes, where it asks for one. */
  proposed: z.string().nullable().default(null),
  /** What it can be applied to, where that is more than one thing. */
  scopes: z
    .array(z.object({ scope: z.enum(REMEDY_SCOPES), label: z.string(), links: z.int(), visits: z.number() }))
    .default([]),
  /** Visits a day it keeps, over the last 28 days. */
  visitsKept: z.number(),
})
export type Remedy = z.infer<typeof remedy>

export const remedyRequest = z.strictObject({
  reason,
  slug: slug.optional(),
  destination: z.string().trim().min(1).max(8000).optional(),
  scope: z.enum(REMEDY_SCOPES, 'Say “link”, “destination” or “move”.').optional(),
})
export type RemedyRequest = z.output<typeof remedyRequest>

export const docketCase = z.object({
  id: z.int(),
  lane: z.enum(LANE_NAMES),
  kind: z.string(),
  /** What it is called by: an address, a pattern, a domain. */
  name: z.string(),
  subject: z.string(),
  domain: z.object({ id: z.int(), host: z.string() }).nullable(),
  severity: z.enum(['broken', 'doubtful']),
  headline: z.string(),
  sentence: z.string(),
  evidence: z.array(z.object({ label: z.string(), text: z.string(), state: z.enum(['sound', 'doubtful', 'broken']) })),
  /** Visits a day affected by all cases of its cause, over the last 28 days. */
  impact: z.number(),
  /** How many cases of its state come of the same cause, itself among them; they are listed as one. */
  together: z.int(),
  /** The others of the same cause. */
  others: z.array(z.object({ id: z.int(), name: z.string() })),
  /** The same in a sentence. */
  affected: z.string(),
  /** What cases are ranked by, and how it is reckoned (semantics §14). */
  urgency: z.number(),
  reckoning: z.string(),
  /** Harms nobody; kept in its lane’s fold. */
  remark: z.boolean(),
  state: z.enum(CASE_STATES),
  setAsideUntil: z.string().nullable(),
  reason: z.string(),
  settledBy: z.string().nullable(),
  /** Settled by a decision to keep it as it is; comes back when what it is about changes. */
  kept: z.boolean(),
  /** Links and rules it is about. */
  links: z.array(z.int()),
  rules: z.array(z.int()),
  /** What it is about, and where in the desk that is. */
  subjects: z.array(z.object({ label: z.string(), to: z.string() })),
  openedAt: z.string(),
  reopenedAt: z.string().nullable(),
  settledAt: z.string().nullable(),
  seenAt: z.string(),
  remedies: z.array(remedy).optional(),
  version: z.int(),
})
export type Case = z.infer<typeof docketCase>

export const caseList = z.object({
  items: z.array(docketCase),
  /** Of each lane: cases, the visits a day they affect together, and remarks, which do not count as cases. */
  /** Since when checks of destinations rest because this machine itself seems cut off. */
  checksPausedSince: z.string().nullable().default(null),
  lanes: z.array(z.object({ lane: z.enum(LANE_NAMES), cases: z.int(), visits: z.number(), remarks: z.int() })),
})
export type CaseList = z.infer<typeof caseList>

export const caseListQuery = z.object({
  lane: z.enum(LANE_NAMES, 'There is no such lane.').optional(),
  state: z.enum(CASE_STATES, 'Choose open, set-aside or settled.').default('open'),
  domain: z.coerce.number('Give the number of a domain.').int('Give the number of a domain.').optional(),
  kind: z.string().max(40).optional(),
  /** Cases about links that have this tag, or this owner. */
  tag: z.string().max(60).optional(),
  owner: z.string().max(120).optional(),
})
export type CaseListQuery = z.output<typeof caseListQuery>

export const casePatch = z.discriminatedUnion(
  'state',
  [
    z.strictObject({
      state: z.literal('set-aside'),
      until: z.iso.datetime({
        offset: true,
        error: 'Enter the date and time until which the case is set aside, for example 2026-12-01T00:00:00Z.',
      }),
      reason,
    }),
    z.strictObject({ state: z.literal('open'), reason }),
  ],
  { error: 'Give the state: “set-aside” with “until”, or “open”.' },
)
export type CasePatch = z.output<typeof casePatch>
