import { Op } from 'sequelize'
import { mayAct, type Role } from '../../../core/schemas'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { LeasedWork, LeaseLost } from '../jobs/leased-work'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { applyProposal } from './apply-proposal'
import { computeProposal } from './compute-proposal'
import { countRows } from './count-rows'
import { expectedOf, proposalJobs } from './proposal-jobs'
import { claimed } from './proposals'

const log = makeLog('worker')

/** A change is written this long before it takes effect, in milliseconds, so that all gateways switch together. */
const AHEAD_MS = 4000
/** After an unexpected fault a change is tried again for this long before it is put on hold. */
const FAULTY_MS = 60_000

/** Applies the changes that are due; returns which were applied and which are on hold. */
export async function makeDueChanges(db: Database): Promise<{ made: number[]; held: number[] }> {
  const due = await db.Proposal.findAll({
    attributes: ['id'],
    where: { state: 'waiting', at: { [Op.lte]: new Date(Date.now() + AHEAD_MS) } },
    order: [
      ['at', 'ASC'],
      ['id', 'ASC'],
    ],
  })
  const made: number[] = []
  const held: number[] = []
  for (const { id } of due) {
    const outcome = await applyDue(db, id)
    if (outcome === 'made') made.push(id)
    if (outcome === 'held') held.push(id)
  }
  return { made, held }
}

/** Applies one change if it is still due; whatever goes wrong with it stops no other. */
async function applyDue(db: Database, id: number): Promise<'made' | 'held' | undefined> {
  // Read now: while others were applied it may have been withdrawn, or scheduled for another time.
  const proposal = await db.Proposal.findByPk(id)
  if (proposal?.state !== 'waiting' || !proposal.at || proposal.at.getTime() > Date.now() + AHEAD_MS) return undefined
  try {
    if (!(await isItsTurn(db, proposal))) return undefined
    // Whoever changed a link since is overruled where that was asked for: each is taken as it is now.
    if (proposal.stops?.changed === false) {
      const work = await LeasedWork.begin(proposalJobs(db), expectedOf(proposal), 'computing', {
        state: 'waiting',
        problem: '',
      })
      if (!work) return undefined
      try {
        await work.run(() => computeProposal(db, proposal, work, 'waiting'))
      } catch (error) {
        await work.finish({ to: 'waiting' }).catch(() => undefined)
        await proposal.reload()
        throw error
      }
    }
    await refuseStopped(db, proposal)
    const actor: Actor = { memberId: proposal.memberId, name: proposal.actor, role: await roleNow(db, proposal) }
    await claimed(db, proposal, (work) => applyProposal(db, actor, proposal, work, momentOf(proposal)))
    return 'made'
  } catch (error) {
    if (error instanceof LeaseLost) return undefined
    // Another worker took it up, or somebody changed it.
    if (error instanceof Problem && (error.title === 'Already under way' || error.title === 'Stopped')) return undefined
    if (!(error instanceof Problem)) {
      log.error(error, `Scheduled change ${id} failed`)
      if (Date.now() - proposal.at!.getTime() < FAULTY_MS) return undefined
    }
    const problem =
      error instanceof Problem
        ? error.message
        : 'Applying it failed unexpectedly; nothing was changed. Apply it by hand.'
    const fresh = await proposal.reload().catch(() => null)
    const isLockConflict =
      fresh?.state === 'waiting' &&
      (await proposalJobs(db).move(expectedOf(fresh), { to: 'held', values: { problem: problem.slice(0, 600) } }))
    return isLockConflict ? 'held' : undefined
  }
}

/** When it takes effect: at its time, or in a moment where that passed while nobody was there to apply it. */
const momentOf = ({ at }: ProposalModel): Date | undefined => (at!.getTime() > Date.now() ? at! : undefined)

/** One that follows another waits for it; where the other will never be made, it is held. */
async function isItsTurn(db: Database, proposal: ProposalModel): Promise<boolean> {
  if (proposal.afterId == null) return true
  const before = await db.Proposal.findByPk(proposal.afterId, { attributes: ['state'] })
  if (before?.state === 'applied') return true
  if (before?.state === 'waiting' || before?.state === 'applying') return false
  throw new Problem(409, 'Held', 'The step before it was not made; nothing was changed.')
}

/** Whoever said that it is to be made must still be allowed to: one link an editor changes, many an administrator. */
async function roleNow(db: Database, { memberId, role, total }: ProposalModel): Promise<Role> {
  if (memberId === null) return role
  const member = await db.Member.findByPk(memberId, { attributes: ['role'] })
  if (member && mayAct(member.role, total === 1 ? 'editor' : 'administrator')) return member.role
  throw new Problem(
    403,
    'Held',
    'The person who scheduled this no longer has the required role. Another member who has it can apply it.',
  )
}

/** What was set to stop it: looked at just before it is made. */
async function refuseStopped(db: Database, { id, stops }: ProposalModel): Promise<void> {
  const { checkFailed } = await countRows(db, id)
  if (stops?.broken !== false && checkFailed > 0)
    throw new Problem(
      409,
      'Held',
      `${checkFailed === 1 ? 'One new destination does' : `${checkFailed} new destinations do`} not answer. Nothing ` +
        'was changed. Skip these links, or apply the change anyway.',
    )
}

/** Proposals are kept so long after they ended; what was made stays in the ledger. */
const KEPT_DAYS = 90

export const forgetProposals = (db: Database): Promise<unknown> =>
  db.Proposal.destroy({ where: { endedAt: { [Op.lt]: new Date(Date.now() - KEPT_DAYS * 86_400_000) } } })
