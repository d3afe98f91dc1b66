import { QueryTypes } from 'sequelize'
import type { Proposal, ProposalRow, ProposalRowsPatch, ProposalRowsQuery } from '../../../core/schemas'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { readHosts, withHost } from '../ledger/with-host'
import { notFound, Problem } from '../problem'
import { countRows } from './count-rows'
import { expectedOf, proposalJobs } from './proposal-jobs'

const NOBODY = { links: 0, holders: 0, until: null }
const NO_COUNTS = {
  change: 0,
  clash: 0,
  unchanged: 0,
  refused: 0,
  checkFailed: 0,
  leftOut: 0,
  unknown: [],
  permanent: NOBODY,
}

export const NO_CHECKS = { total: 0, done: 0, sound: 0, doubtful: 0, broken: 0 }

/** A proposal as a list tells it: as it was counted when it was worked out, and without its checks. */
export const toListedProposal = (row: ProposalModel): Proposal => ({
  id: row.id,
  state: row.state,
  words: row.words,
  change: row.spec,
  reason: row.reason,
  actor: row.actor,
  at: row.at?.toISOString() ?? null,
  stops: row.stops!,
  total: row.total!,
  done: row.done!,
  counts: { ...NO_COUNTS, ...row.counts },
  checks: NO_CHECKS,
  problem: row.problem!,
  entry: row.entryId ?? null,
  madeAt: row.madeAt.toISOString(),
  endedAt: row.endedAt?.toISOString() ?? null,
  version: row.version!,
})

/** A proposal as the API tells it: with its rows counted, and how far its checks are. */
export async function toProposalView(db: Database, proposal: ProposalModel): Promise<Proposal> {
  const fresh = await db.Proposal.findByPk(proposal.id)
  if (!fresh) throw notFound('proposal')
  const listed = toListedProposal(fresh)
  const isOpen = fresh.state === 'ready' || fresh.state === 'waiting' || fresh.state === 'held'
  const [counted, checks] = await Promise.all([
    isOpen ? countRows(db, fresh.id) : {},
    fresh.state === 'computing' ? NO_CHECKS : readChecks(db, fresh.id),
  ])
  return { ...listed, counts: { ...listed.counts, ...counted }, checks }
}

/** How far the new destinations of a proposal are checked, and how they stand. */
async function readChecks(db: Database, id: number): Promise<Proposal['checks']> {
  return tallyChecks(
    await db.sequelize.query<Checked>(
      `SELECT t.confidence, COUNT(DISTINCT t.id) AS targets FROM proposal_row r JOIN target t ON t.hash = r.hash
       WHERE r.proposal_id = ? AND r.kind = 'change' GROUP BY t.confidence`,
      { replacements: [id], type: QueryTypes.SELECT },
    ),
  )
}

/** How many destinations stand so; those without a confidence were not asked yet. */
export interface Checked {
  confidence: 'sound' | 'doubtful' | 'broken' | null
  targets: number
}

/** How far destinations are checked, and how they stand. */
export function tallyChecks(rows: readonly Checked[]): Proposal['checks'] {
  const of = (confidence: string | null) => Number(rows.find((row) => row.confidence === confidence)?.targets ?? 0)
  const [sound, doubtful, broken] = [of('sound'), of('doubtful'), of('broken')]
  return { total: sound + doubtful + broken + of(null), done: sound + doubtful + broken, sound, doubtful, broken }
}

type Half = ProposalRow['before']

const FAILED = "t.confidence IN ('doubtful', 'broken')"
const FILTERS: Record<NonNullable<ProposalRowsQuery['kind']>, string> = {
  change: "r.kind = 'change' AND NOT r.left_out",
  clash: "r.kind = 'clash'",
  unchanged: "r.kind = 'unchanged'",
  refused: "r.kind = 'refused'",
  'check-failed': `r.kind = 'change' AND NOT r.left_out AND ${FAILED}`,
  'left-out': "r.kind = 'change' AND r.left_out",
}

interface RawRow {
  position: number
  link_id: number
  kind: ProposalRow['kind']
  left_out: number
  address: string
  visits_28: number
  before_state: unknown
  after_state: unknown
  why: string
  confidence: 'sound' | 'doubtful' | 'broken' | null
  sentence: string | null
}

/** One page of a proposal's rows, in their order. */
export async function listProposalRows(
  db: Database,
  id: number,
  query: ProposalRowsQuery,
): Promise<{ items: ProposalRow[]; next: string | null }> {
  if (!(await db.Proposal.findByPk(id, { attributes: ['id'] }))) throw notFound('proposal')
  const rows = await db.sequelize.query<RawRow>(
    `SELECT r.*, t.confidence, t.sentence FROM proposal_row r LEFT JOIN target t ON t.hash = r.hash
     WHERE r.proposal_id = :id AND r.position > :after ${query.kind ? `AND ${FILTERS[query.kind]}` : ''}
     ORDER BY r.position LIMIT :limit`,
    {
      replacements: { id, after: Number(query.cursor ?? 0), limit: query.limit + 1 },
      type: QueryTypes.SELECT,
    },
  )
  const page = rows.slice(0, query.limit)
  const hosts = await readHosts(db)
  return {
    items: page.map((row) => ({
      position: Number(row.position),
      link: Number(row.link_id),
      address: row.address,
      kind: row.kind,
      leftOut: Boolean(Number(row.left_out)),
      before: withHost(fromJson<Half>(row.before_state), hosts),
      after: withHost(fromJson<Half>(row.after_state), hosts),
      why: row.why,
      check: row.confidence === null ? null : { confidence: row.confidence, sentence: row.sentence ?? '' },
      visits28: Number(row.visits_28),
    })),
    next: rows.length > query.limit ? String(page.at(-1)!.position) : null,
  }
}

/** Leaves rows out of a proposal, or takes them in again. */
export async function patchProposalRows(db: Database, id: number, patch: ProposalRowsPatch): Promise<Proposal> {
  const proposal = await db.Proposal.findByPk(id)
  if (!proposal) throw notFound('proposal')
  if (!['ready', 'waiting', 'held'].includes(proposal.state))
    throw new Problem(409, 'Not open', 'Rows can be left out only while the proposal is open.')
  const which = patch.positions
    ? { sql: 'r.position IN (:positions)', replacements: { positions: [...patch.positions, 0] } }
    : { sql: patch.kind === 'left-out' ? 'r.left_out' : FAILED, replacements: {} }
  await db.sequelize.transaction(async (transaction) => {
    // First the job's row: whoever applies or recalculates it sees the rows before or after, never in between.
    if (!(await proposalJobs(db).move(expectedOf(proposal), { to: proposal.state }, transaction)))
      throw new Problem(409, 'Changed since', 'The proposal was changed since it was read; load it again.')
    await db.sequelize.query(
      `UPDATE proposal_row r LEFT JOIN target t ON t.hash = r.hash SET r.left_out = :leftOut
       WHERE r.proposal_id = :id AND r.kind = 'change' AND ${which.sql}`,
      { replacements: { id, leftOut: patch.leftOut, ...which.replacements }, transaction },
    )
  })
  return toProposalView(db, proposal)
}
