import { QueryTypes, type Transaction } from 'sequelize'
import type { Action } from '../../../core/ledger'
import type { ChangeSpec } from '../../../core/changes'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { circleSurvey } from '../conflicts/survey'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { OwnParts, refuseCircles } from './check-circles'
import type { ProposalWork } from './compute-proposal'
import { writeMany, type Part } from './write-many'

const PAGE = 500
/** Gateways need a moment to take thousands of links in before they change over together. */
const CHANGE_OVER_MS = 1500
const FEW = 50

/** When a change to so many links counts: in a moment, so that all gateways are ready for it; for a few at once. */
export const changeOverAt = (links: number, now: Date): Date | null =>
  links <= FEW ? null : new Date(now.getTime() + CHANGE_OVER_MS)

/**
 * Applies a proposal that was claimed: all of it or nothing, one entry in the ledger, and its state becomes `applied`
 * in the same transaction. `liveAt` is when it takes effect, where a time was set.
 */
export async function applyProposal(
  db: Database,
  actor: Actor,
  proposal: ProposalModel,
  work: ProposalWork,
  liveAt?: Date,
): Promise<number> {
  const survey = await circleSurvey(db)
  const own = new OwnParts(survey)
  const links = await countChanges(db, proposal.id)
  if (links === 0)
    throw new Problem(409, 'Nothing to change', 'No link is left that this would change; look at the proposal again.')
  const label = await labelOf(db, proposal, links)
  return writeMany(db, actor, {
    async *parts(transaction) {
      for await (const page of partsOf(db, proposal.id, transaction)) {
        work.check()
        own.add(page)
        yield page
      }
    },
    about: {
      action: actionOf(proposal.spec),
      subject: { kind: 'links', id: 0, label },
      reason: proposal.reason,
      before: { count: links },
      after: { count: links, words: proposal.words, proposal: proposal.id },
    },
    liveAt: (now) => liveAt ?? changeOverAt(links, now),
    lastLook: (transaction) => refuseCircles(db, transaction, survey, own, proposal.revision),
    async along({ transaction, entryId }) {
      const values = { entry_id: entryId, ended_at: new Date(), problem: '' }
      await work.finish({ to: 'applied', values }, transaction)
    },
  })
}

/** The word the ledger uses for it. */
function actionOf({ steps, set, domain, tags }: ChangeSpec): Action {
  const fields = Object.keys(set)
  if (domain) return 'change'
  if (steps.length > 0 && fields.length + tags.add.length + tags.remove.length === 0) return 'change-destination'
  if (steps.length === 0 && fields.length === 1 && set.standing === 'paused') return 'pause'
  if (steps.length === 0 && fields.length === 1 && set.standing === 'ended') return 'end'
  return 'change'
}

async function labelOf(db: Database, proposal: ProposalModel, links: number): Promise<string> {
  const [first] = await db.sequelize.query<{ address: string }>(
    `SELECT address FROM proposal_row WHERE proposal_id = ? AND kind = 'change' AND NOT left_out
     ORDER BY position LIMIT 1`,
    { replacements: [proposal.id], type: QueryTypes.SELECT },
  )
  return links === 1 ? first!.address : `${links.toLocaleString('en')} links, ${first!.address} among them`
}

/** How many links a proposal would change. */
export async function countChanges(db: Database, id: number): Promise<number> {
  const [row] = await db.sequelize.query<{ links: number }>(
    "SELECT COUNT(*) AS links FROM proposal_row WHERE proposal_id = ? AND kind = 'change' AND NOT left_out",
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return Number(row!.links)
}

/** The parts of a proposal in the order of the links' numbers: so all who lock links lock them. */
async function* partsOf(db: Database, id: number, transaction: Transaction): AsyncGenerator<Part[]> {
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{
      link_id: number
      link_version: number
      before_state: unknown
      after_state: unknown
    }>(
      `SELECT link_id, link_version, before_state, after_state FROM proposal_row
       WHERE proposal_id = ? AND link_id > ? AND kind = 'change' AND NOT left_out ORDER BY link_id LIMIT ${PAGE}`,
      { replacements: [id, after], type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.link_id)
    yield rows.map((row) => ({
      forward: true,
      linkId: Number(row.link_id),
      version: Number(row.link_version),
      before: fromJson<Part['before']>(row.before_state),
      after: fromJson<Part['after']>(row.after_state),
    }))
  }
}
