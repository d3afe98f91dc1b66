import { z } from 'zod'
import { changeSpec } from '../changes'
import { linkFilters } from './link'
import { destination, moment, reason, yesOrNo } from './values'

export const PROPOSAL_STATES = [
  'computing',
  'ready',
  'waiting',
  'applying',
  'applied',
  'withdrawn',
  'held',
  'failed',
] as const

/** So many links may be changed at once. */
export const MAX_CHANGED = 50_000

const id = z.int('Give numbers of links.').min(1, 'Give numbers of links.')

/** Which links: by number, by the register's filters, by pasted addresses, or all that lead to a host. */
export const changeSelection = z
  .strictObject({
    links: z.array(id, 'Give links as a list of numbers.').max(MAX_CHANGED, 'At most 50,000 links at once.'),
    filters: z.strictObject(linkFilters.shape),
    addresses: z
      .array(z.string('Give addresses as text.').max(2000, 'An address of at most 2,000 characters.'))
      .max(MAX_CHANGED, 'At most 50,000 addresses at once.'),
    host: z.string('Give a host, like www.example.').min(1, 'Give a host, like www.example.').max(253),
  })
  .partial()
  .refine(
    (given) => Object.values(given).filter((value) => value !== undefined).length === 1,
    'Say which links in exactly one way: “links”, “filters”, “addresses” or “host”.',
  )
export type ChangeSelection = z.output<typeof changeSelection>

/** What keeps a change from being made when its moment comes. */
export const proposalStops = z.strictObject({
  /** A link was changed by somebody meanwhile. */
  changed: yesOrNo.default(true),
  /** A new destination does not answer. */
  broken: yesOrNo.default(true),
})
export type ProposalStops = z.output<typeof proposalStops>

export const proposalCreate = z.strictObject({
  select: changeSelection,
  change: changeSpec,
  /** When it is to be made; at once, once applied, where it is not said. */
  at: moment.nullable().default(null),
  stops: proposalStops.default({ changed: true, broken: true }),
  reason,
})
export type ProposalCreate = z.output<typeof proposalCreate>

export const proposalPatch = z.strictObject({ at: moment.nullable(), stops: proposalStops, reason }).partial()
export type ProposalPatch = z.output<typeof proposalPatch>

export const PROPOSAL_ROW_KINDS = ['change', 'clash', 'unchanged', 'refused'] as const
/** What the rows of a proposal can be narrowed to. */
export const PROPOSAL_ROW_FILTERS = [...PROPOSAL_ROW_KINDS, 'check-failed', 'left-out'] as const

export const proposalCounts = z.object({
  change: z.int(),
  clash: z.int(),
  unchanged: z.int(),
  refused: z.int(),
  /** Among the changes: those whose new destination does not answer, and those somebody left out. */
  checkFailed: z.int(),
  leftOut: z.int(),
  /** Pasted addresses that are none of ours. */
  unknown: z.array(z.string()),
  /** Permanent links among them, and how many people may hold what these answer today, until when. */
  permanent: z.object({ links: z.int(), holders: z.int(), until: z.string().nullable() }),
})
export type ProposalCounts = z.infer<typeof proposalCounts>

const state = z.record(z.string(), z.unknown())

export const proposal = z.object({
  id: z.int(),
  state: z.enum(PROPOSAL_STATES),
  /** What it does, in words. */
  words: z.string(),
  change: changeSpec,
  reason: z.string(),
  actor: z.string(),
  at: z.string().nullable(),
  stops: proposalStops,
  /** Links to look at, and looked at so far. */
  total: z.int(),
  done: z.int(),
  counts: proposalCounts,
  /** How far its new destinations are checked. */
  checks: z.object({ total: z.int(), done: z.int(), sound: z.int(), doubtful: z.int(), broken: z.int() }),
  problem: z.string(),
  /** The entry of the ledger it became. */
  entry: z.int().nullable(),
  madeAt: z.string(),
  endedAt: z.string().nullable(),
  version: z.int(),
})
export type Proposal = z.infer<typeof proposal>

export const proposalRow = z.object({
  position: z.int(),
  link: z.int(),
  address: z.string(),
  kind: z.enum(PROPOSAL_ROW_KINDS),
  leftOut: z.boolean(),
  before: state.nullable(),
  after: state.nullable(),
  why: z.string(),
  /** How the new destination stands; null where it was not asked yet, or stays. */
  check: z.object({ confidence: z.enum(['sound', 'doubtful', 'broken']), sentence: z.string() }).nullable(),
  visits28: z.int(),
})
export type ProposalRow = z.infer<typeof proposalRow>

export const proposalRowsQuery = z.object({
  kind: z.enum(PROPOSAL_ROW_FILTERS, `Choose one of ${PROPOSAL_ROW_FILTERS.join(', ')}.`).optional(),
  cursor: z.string().regex(/^\d+$/, 'Use the “next” of the page before.').optional(),
  limit: z.coerce
    .number('Give a number from 1 to 500.')
    .int()
    .min(1, 'Give a number from 1 to 500.')
    .max(500, 'Give a number from 1 to 500.')
    .default(100),
})
export type ProposalRowsQuery = z.output<typeof proposalRowsQuery>

/** Leaves rows out of a proposal, or takes them in again: by their place, or all of a kind. */
export const proposalRowsPatch = z
  .strictObject({
    positions: z.array(z.int()).max(1000, 'At most 1,000 rows at once.').optional(),
    kind: z.enum(['check-failed', 'left-out']).optional(),
    leftOut: yesOrNo,
  })
  .refine(({ positions, kind }) => (positions === undefined) !== (kind === undefined), {
    error: 'Say which rows: by “positions” or by “kind”.',
  })
export type ProposalRowsPatch = z.output<typeof proposalRowsPatch>

const curve = {
  holders: z.int(),
  until: z.string().nullable(),
  curve: z.array(z.object({ at: z.string(), holders: z.int() })),
}
/** Who may still hold an old permanent answer of a link. */
export const linkHolders = z.object({
  /** How long browsers may keep a permanent answer of its domain. */
  windowSeconds: z.int(),
  /** Since its last change; null where nobody can hold an old answer any more. */
  changed: z.object({ at: z.string(), was: z.string(), ...curve }).nullable(),
  /** If it were changed now; null where it answers temporarily. */
  ifChanged: z.object(curve).nullable(),
  /**
   * It came from elsewhere with a permanent status: what was answered there may be held for an unknown time, maybe for
   * ever.
   */
  elsewhere: z.object({ at: z.string(), file: z.string() }).nullable(),
})
export type LinkHolders = z.infer<typeof linkHolders>

/** A permanent link that is changed by way of a temporary one, so that nobody goes to the old destination. */
export const temporaryFirst = z.strictObject({ destination, reason })
export type TemporaryFirst = z.output<typeof temporaryFirst>
