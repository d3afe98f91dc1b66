import { Op } from 'sequelize'
import { mayAct, type Proposal, type ProposalCreate, type ProposalPatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { makeLog } from '../../../environment/log'
import { bornLeased } from '../jobs/born-leased'
import { LeasedWork, LeaseLost } from '../jobs/leased-work'
import type { Actor } from '../ledger/change'
import { versionConflict, fieldProblem, notFound, Problem } from '../problem'
import { applyProposal } from './apply-proposal'
import { changeWords } from './change-words'
import { computeProposal, type ProposalWork } from './compute-proposal'
import { expectedOf, proposalJobs } from './proposal-jobs'
import { toListedProposal, toProposalView } from './proposal-view'

const log = makeLog('admin')
/** Proposals of one person that may be calculated at a time. */
const MAX_COMPUTING = 3

/** What a proposal becomes whose first calculation was interrupted. */
const FAILED = {
  state: 'failed',
  problem: 'The calculation was interrupted; create the change again.',
  ended: true,
} as const

/** Creates a proposal: which links it affects and what each would become is calculated; nothing is changed. */
export async function makeProposal(db: Database, actor: Actor, input: ProposalCreate): Promise<Proposal> {
  refusePast(input.at)
  if (input.change.domain && !(await db.Domain.findOne({ where: { host: input.change.domain.toLowerCase() } })))
    throw fieldProblem(
      'change/domain',
      `There is no domain “${input.change.domain}”; choose one of the organisation’s own.`,
    )
  const name = actor.name.slice(0, 160)
  const proposal = await db.Proposal.create({
    state: 'computing',
    memberId: actor.memberId,
    actor: name,
    role: actor.role,
    selection: input.select,
    spec: input.change,
    words: changeWords(input.change),
    reason: input.reason ?? '',
    at: input.at === null ? null : new Date(input.at),
    stops: input.stops,
    madeAt: new Date(),
    ...bornLeased(db, FAILED),
  })
  // Counted once it is there: of many created at once, the first few stay.
  const older = await db.Proposal.count({
    where: { state: 'computing', actor: name, id: { [Op.lt]: proposal.id } },
  })
  if (older >= MAX_COMPUTING) {
    await proposal.destroy()
    throw new Problem(
      429,
      'Proposals are under way',
      `${MAX_COMPUTING} of your proposals are being calculated; wait for one of them.`,
    )
  }
  void compute(db, proposal, LeasedWork.held(proposalJobs(db), expectedOf(proposal)), 'ready')
  return toProposalView(db, proposal)
}

/** Calculates a proposal under its lease; what fails is shown in it. */
async function compute(db: Database, proposal: ProposalModel, work: ProposalWork, then: 'ready'): Promise<void> {
  try {
    await work.run(() => computeProposal(db, proposal, work, then))
  } catch (error) {
    if (error instanceof LeaseLost && !work.tookTooLong) return
    if (!(error instanceof Problem) && !work.tookTooLong) log.error(error, 'A proposal could not be calculated')
    const problem = work.tookTooLong
      ? 'The calculation took too long and was stopped; change fewer links at a time.'
      : error instanceof Problem
        ? error.message
        : 'The calculation failed; nothing was changed.'
    await work
      .finish({ to: 'failed', values: { problem: problem.slice(0, 600), ended_at: new Date() } })
      .catch(() => undefined)
  }
}

export async function findProposal(db: Database, id: number): Promise<ProposalModel> {
  const proposal = await db.Proposal.findByPk(id)
  if (!proposal) throw notFound('proposal')
  return proposal
}

/** A proposal as it stands, with how far it and its checks are. */
export const readProposal = async (db: Database, id: number): Promise<Proposal> =>
  toProposalView(db, await findProposal(db, id))

const MAX_LISTED = 100

/** The proposals of late, the newest first: those that wait, are held or can be made, then those that were. */
export async function listProposals(db: Database): Promise<{ items: Proposal[] }> {
  const rows = await db.Proposal.findAll({ order: [['id', 'DESC']], limit: MAX_LISTED })
  return { items: rows.map(toListedProposal) }
}

const OPEN = ['ready', 'waiting', 'held'] as const

function refuseNotOpen(proposal: ProposalModel): void {
  if ((OPEN as readonly string[]).includes(proposal.state)) return
  const words = {
    computing: 'is still being calculated',
    applying: 'is being made just now',
    applied: 'has been made already; undo it in the ledger',
    withdrawn: 'was withdrawn; make a new one',
    failed: 'could not be calculated; create a new one',
  }[proposal.state as Exclude<ProposalModel['state'], (typeof OPEN)[number]>]
  throw new Problem(409, 'Not open', `This proposal ${words}.`)
}

function refusePast(at: string | null | undefined): void {
  if (at && Date.parse(at) <= Date.now())
    throw fieldProblem('at', 'The time must be in the future. Leave it empty to apply now.')
}

/** Changes when a proposal is applied, why, and what stops it. Without a time it is open again. */
export async function changeProposal(
  db: Database,
  id: number,
  version: number,
  patch: ProposalPatch,
): Promise<Proposal> {
  refusePast(patch.at)
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  const isOpened = patch.at === null && proposal.state !== 'ready'
  const moved =
    proposal.version === version &&
    (await proposalJobs(db).move(expectedOf(proposal), {
      to: isOpened ? 'ready' : proposal.state,
      values: {
        ...(patch.reason !== undefined && { reason: patch.reason }),
        ...(patch.stops && { stops: JSON.stringify(patch.stops) }),
        ...(patch.at !== undefined && { at: patch.at === null ? null : new Date(patch.at) }),
        ...(patch.at === null && { problem: '' }),
      },
    }))
  if (!moved) throw versionConflict('this proposal', await toProposalView(db, proposal), patch)
  return toProposalView(db, proposal)
}

/** Calculates a proposal again, from the register as it is now. */
export async function computeAgain(db: Database, id: number): Promise<Proposal> {
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  const work = await LeasedWork.begin(proposalJobs(db), expectedOf(proposal), 'computing', {
    state: proposal.state,
    problem: 'The last calculation was interrupted; calculate the proposal again.',
  })
  if (work) void compute(db, await proposal.reload(), work, 'ready')
  return readProposal(db, id)
}

/** Applies the change of a proposal now, or schedules it for the time it names. */
export async function makeChange(db: Database, actor: Actor, id: number, version: number): Promise<Proposal> {
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  const isStale = async () => versionConflict('this proposal', await toProposalView(db, proposal), null)
  if (proposal.version !== version) throw await isStale()
  if (proposal.at !== null && proposal.at!.getTime() > Date.now()) {
    // Whoever schedules it answers for it, whoever prepared it.
    const moved = await proposalJobs(db).move(expectedOf(proposal), {
      to: 'waiting',
      values: { member_id: actor.memberId, actor: actor.name.slice(0, 160), role: actor.role, problem: '' },
    })
    if (!moved) throw await isStale()
    return toProposalView(db, proposal)
  }
  await claimed(db, proposal, (work) => applyProposal(db, actor, proposal, work))
  return readProposal(db, id)
}

/** Claims a proposal, so that it is applied once whoever asks, and gives it back where that fails. */
export async function claimed(
  db: Database,
  proposal: ProposalModel,
  make: (work: ProposalWork) => Promise<unknown>,
): Promise<void> {
  const was = proposal.state as 'ready' | 'waiting' | 'held'
  const work = await LeasedWork.begin(proposalJobs(db), expectedOf(proposal), 'applying', {
    state: was,
    problem: 'Applying it was interrupted; nothing was changed.',
  })
  if (!work) throw new Problem(409, 'Already under way', 'Somebody else is applying or changing this proposal.')
  try {
    await work.run(() => make(work))
  } catch (error) {
    await work.finish({ to: was }).catch(() => undefined)
    if (error instanceof LeaseLost) throw new Problem(409, 'Stopped', 'Applying it was stopped; nothing was changed.')
    throw error
  }
}

/** Withdraws a proposal that was not made; its own maker may, and administrators. */
export async function withdrawProposal(db: Database, actor: Actor, id: number): Promise<void> {
  const proposal = await findProposal(db, id)
  if (proposal.memberId !== actor.memberId && !mayAct(actor.role, 'administrator'))
    throw new Problem(403, 'Not allowed', 'Only who made this proposal, or an administrator, may withdraw it.')
  if (proposal.state === 'withdrawn') return
  if (proposal.state !== 'failed' && proposal.state !== 'computing') refuseNotOpen(proposal)
  const moved = await proposalJobs(db).move(expectedOf(proposal), {
    to: 'withdrawn',
    values: { ended_at: new Date() },
  })
  if (!moved) throw new Problem(409, 'Changed since', 'The proposal was changed since it was read; load it again.')
}
