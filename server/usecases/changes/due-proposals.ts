import { Op } from 'sequelize'
import { mayAct, type Role } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { applyProposal } from './apply-proposal'
import { computeProposal, countRows } from './compute-proposal'
import { ABANDONED_MS, claimed } from './proposals'

/** A change is written so long before its moment, and counts at the moment itself. */
const AHEAD_MS = 4000

/** Makes the changes whose moment has come; gives how many were made, and how many are held. */
export async function makeDueChanges(db: Database): Promise<{ made: number[]; held: number[] }> {
  await giveBackAbandoned(db)
  const due = await db.Proposal.findAll({
    where: { state: 'waiting', at: { [Op.lte]: new Date(Date.now() + AHEAD_MS) } },
    order: [
      ['at', 'ASC'],
      ['id', 'ASC'],
    ],
  })
  const made: number[] = []
  const held: number[] = []
  for (const proposal of due) {
    try {
      if (!(await isItsTurn(db, proposal))) continue
      // Whoever changed a link meanwhile is overruled where that was wished: each is taken as it stands.
      if (proposal.stops?.changed === false) {
        await computeProposal(db, proposal)
        await proposal.update({ state: 'waiting' })
      }
      await refuseStopped(db, proposal)
      const actor: Actor = {
        memberId: proposal.memberId,
        name: proposal.actor,
        role: await roleNow(db, proposal),
      }
      await claimed(db, proposal, () => applyProposal(db, actor, proposal, momentOf(proposal)))
      made.push(proposal.id)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      // Another worker took it up.
      if (error.title === 'Already under way') continue
      const [mine] = await db.Proposal.update(
        { state: 'held', problem: error.message.slice(0, 600), version: proposal.version + 1 },
        { where: { id: proposal.id, state: 'waiting' } },
      )
      if (mine > 0) held.push(proposal.id)
    }
  }
  return { made, held }
}

/** The moment it counts from: its own, or in a moment where that has passed while nobody was there to make it. */
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
  throw new Problem(403, 'Held', 'Who set this for its moment may not make it any more; somebody else may.')
}

/** What was set to stop it: looked at just before it is made. */
async function refuseStopped(db: Database, { id, stops }: ProposalModel): Promise<void> {
  const { checkFailed } = await countRows(db, id)
  if (stops?.broken !== false && checkFailed > 0)
    throw new Problem(
      409,
      'Held',
      `${checkFailed === 1 ? 'One new destination does' : `${checkFailed} new destinations do`} not answer; nothing ` +
        'was changed. Leave these links out, or have the change made all the same.',
    )
}

/** Proposals whose maker was ended in the middle stand as before: nothing of theirs was written. */
async function giveBackAbandoned(db: Database): Promise<void> {
  const seenAt = { [Op.lt]: new Date(Date.now() - ABANDONED_MS) }
  await db.Proposal.update(
    { state: 'ready', problem: 'Making it was cut short; nothing was changed.' },
    { where: { state: 'applying', at: null, seenAt } },
  )
  await db.Proposal.update({ state: 'waiting' }, { where: { state: 'applying', at: { [Op.ne]: null }, seenAt } })
  await db.Proposal.update(
    { state: 'failed', problem: 'Working it out was cut short; make it again.', endedAt: new Date() },
    { where: { state: 'computing', seenAt } },
  )
}

/** Proposals are kept so long after they ended; what was made stays in the ledger. */
const KEPT_DAYS = 90

export const forgetProposals = (db: Database): Promise<unknown> =>
  db.Proposal.destroy({ where: { endedAt: { [Op.lt]: new Date(Date.now() - KEPT_DAYS * 86_400_000) } } })
