import { Op } from 'sequelize'
import { mayAct, type Proposal, type ProposalCreate, type ProposalPatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { makeLog } from '../../../environment/log'
import type { Actor } from '../ledger/change'
import { changedMeanwhile, fieldProblem, notHere, Problem } from '../problem'
import { applyProposal } from './apply-proposal'
import { changeWords } from './change-words'
import { computeProposal } from './compute-proposal'
import { toListedProposal, toProposalView } from './proposal-view'

const log = makeLog('admin')
/** So many proposals of one person may be worked out at a time. */
const MOST_COMPUTING = 3
/** A proposal nobody works on any more: whoever did was ended. */
export const ABANDONED_MS = 60_000

/** Makes a proposal: which links it means and what each would become is worked out; nothing is changed. */
export async function makeProposal(db: Database, actor: Actor, input: ProposalCreate): Promise<Proposal> {
  refusePast(input.at)
  if (input.change.domain && !(await db.Domain.findOne({ where: { host: input.change.domain.toLowerCase() } })))
    throw fieldProblem(
      'change/domain',
      `There is no domain “${input.change.domain}”; choose one of the organisation’s own.`,
    )
  const computing = await db.Proposal.count({
    where: {
      state: 'computing',
      actor: actor.name.slice(0, 160),
      seenAt: { [Op.gt]: new Date(Date.now() - ABANDONED_MS) },
    },
  })
  if (computing >= MOST_COMPUTING)
    throw new Problem(
      429,
      'Proposals are under way',
      `${MOST_COMPUTING} proposals of yours are being worked out; wait for one.`,
    )
  const now = new Date()
  const proposal = await db.Proposal.create({
    state: 'computing',
    memberId: actor.memberId,
    actor: actor.name.slice(0, 160),
    role: actor.role,
    selection: input.select,
    spec: input.change,
    words: changeWords(input.change),
    reason: input.reason ?? '',
    at: input.at === null ? null : new Date(input.at),
    stops: input.stops,
    madeAt: now,
    seenAt: now,
  })
  void compute(db, proposal)
  return toProposalView(db, proposal)
}

/** Works a proposal out; what fails is told in it. */
async function compute(db: Database, proposal: ProposalModel): Promise<void> {
  try {
    await computeProposal(db, proposal)
  } catch (error) {
    if (!(error instanceof Problem)) log.error(error, 'A proposal could not be worked out')
    const problem = error instanceof Problem ? error.message : 'It could not be worked out; nothing was changed.'
    await proposal
      .update({ state: 'failed', problem: problem.slice(0, 600), endedAt: new Date() })
      .catch(() => undefined)
  }
}

export async function findProposal(db: Database, id: number): Promise<ProposalModel> {
  const proposal = await db.Proposal.findByPk(id)
  if (!proposal) throw notHere('proposal')
  return proposal
}

/** A proposal as it stands, with how far it and its checks are. */
export const readProposal = async (db: Database, id: number): Promise<Proposal> =>
  toProposalView(db, await findProposal(db, id))

const MOST_LISTED = 100

/** The proposals of late, the newest first: those that wait, are held or can be made, then those that were. */
export async function listProposals(db: Database): Promise<{ items: Proposal[] }> {
  const rows = await db.Proposal.findAll({ order: [['id', 'DESC']], limit: MOST_LISTED })
  return { items: rows.map(toListedProposal) }
}

const OPEN = ['ready', 'waiting', 'held'] as const

function refuseNotOpen(proposal: ProposalModel): void {
  if ((OPEN as readonly string[]).includes(proposal.state)) return
  const words = {
    computing: 'is still being worked out',
    applying: 'is being made just now',
    applied: 'has been made already; undo it in the ledger',
    withdrawn: 'was withdrawn; make a new one',
    failed: 'could not be worked out; make a new one',
  }[proposal.state as Exclude<ProposalModel['state'], (typeof OPEN)[number]>]
  throw new Problem(409, 'Not open', `This proposal ${words}.`)
}

function refusePast(at: string | null | undefined): void {
  if (at && Date.parse(at) <= Date.now())
    throw fieldProblem('at', 'The moment must lie ahead; leave it out to make the change at once.')
}

/** Changes when a proposal is made, why, and what stops it. A moment that is taken away leaves it open. */
export async function changeProposal(
  db: Database,
  id: number,
  version: number,
  patch: ProposalPatch,
): Promise<Proposal> {
  refusePast(patch.at)
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  if (proposal.version !== version) throw changedMeanwhile('this proposal', await toProposalView(db, proposal), patch)
  await proposal.update({
    ...(patch.reason !== undefined && { reason: patch.reason }),
    ...(patch.stops && { stops: patch.stops }),
    ...(patch.at !== undefined && {
      at: patch.at === null ? null : new Date(patch.at),
      ...(patch.at === null && { state: 'ready' as const, problem: '' }),
    }),
    version: version + 1,
  })
  return toProposalView(db, proposal)
}

/** Works a proposal out again, from the register as it is now. */
export async function computeAgain(db: Database, id: number): Promise<Proposal> {
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  const [mine] = await db.Proposal.update(
    { state: 'computing', seenAt: new Date() },
    { where: { id, state: proposal.state } },
  )
  if (mine > 0) void compute(db, proposal)
  return readProposal(db, id)
}

/** Makes the change a proposal tells of: at once, or has it made at the moment it names. */
export async function makeChange(db: Database, actor: Actor, id: number, version: number): Promise<Proposal> {
  const proposal = await findProposal(db, id)
  refuseNotOpen(proposal)
  if (proposal.version !== version) throw changedMeanwhile('this proposal', await toProposalView(db, proposal), null)
  if (proposal.at !== null && proposal.at.getTime() > Date.now()) {
    // Who says that it is to be made answers for it, whoever prepared it.
    await proposal.update({
      state: 'waiting',
      memberId: actor.memberId,
      actor: actor.name.slice(0, 160),
      role: actor.role,
      problem: '',
      version: version + 1,
    })
    return toProposalView(db, proposal)
  }
  await claimed(db, proposal, () => applyProposal(db, actor, proposal))
  return readProposal(db, id)
}

/** Claims a proposal, so that it is made once whoever asks, and gives it back where that fails. */
export async function claimed(db: Database, proposal: ProposalModel, make: () => Promise<unknown>): Promise<void> {
  const was = proposal.state
  const [mine] = await db.Proposal.update(
    { state: 'applying', seenAt: new Date() },
    { where: { id: proposal.id, state: was } },
  )
  if (mine === 0) throw new Problem(409, 'Already under way', 'Somebody else is making this change already.')
  try {
    await make()
  } catch (error) {
    await db.Proposal.update({ state: was }, { where: { id: proposal.id, state: 'applying' } }).catch(() => undefined)
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
  const [mine] = await db.Proposal.update(
    { state: 'withdrawn', endedAt: new Date(), version: proposal.version + 1 },
    { where: { id, state: proposal.state } },
  )
  if (mine === 0) throw new Problem(409, 'Changed meanwhile', 'The proposal stands otherwise by now; look again.')
}
