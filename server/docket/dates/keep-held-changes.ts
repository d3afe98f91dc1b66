import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { caseKey, reconcileCases, type Finding } from '../keeper'

const KIND = 'change-held'

/** Keeps a case for each change that was not made at its moment, until it is made, withdrawn or set anew. */
export async function keepHeldChanges(db: Database): Promise<void> {
  const [held, there] = await Promise.all([
    db.Proposal.findAll({ where: { state: 'held' } }),
    db.DocketCase.findAll({ where: { lane: 'dates', kind: KIND } }),
  ])
  if (held.length === 0 && there.every(({ state }) => state === 'settled')) return
  await reconcileCases(db, await Promise.all(held.map((one) => findingOf(db, one))), { there, now: new Date() })
}

const stamp = (at: Date) => at.toISOString().slice(0, 16).replace('T', ' ') + ' UTC'

async function findingOf(db: Database, proposal: ProposalModel): Promise<Finding> {
  const rows = await db.sequelize.query<{ link_id: number; visits: string }>(
    `SELECT link_id, visits_28 AS visits FROM proposal_row WHERE proposal_id = ? AND kind = 'change' AND NOT left_out
     ORDER BY visits_28 DESC`,
    { replacements: [proposal.id], type: QueryTypes.SELECT },
  )
  const subject = `Change ${proposal.id}`
  const links = rows.length === 1 ? '1 link' : `${rows.length.toLocaleString('en')} links`
  const visits = rows.reduce((sum, row) => sum + Number(row.visits), 0)
  return {
    kind: KIND,
    key: caseKey({ kind: KIND, domainId: null, linkId: null, subject }),
    domainId: null,
    linkId: null,
    links: rows.map(({ link_id }) => Number(link_id)),
    subject,
    severity: 'doubtful',
    headline: `Scheduled change to ${links} is on hold`,
    sentence: `It was set for ${stamp(proposal.at!)} by ${proposal.actor}: ${proposal.words}. ${proposal.problem}`,
    evidence: [{ label: 'Why it was held', text: proposal.problem, state: 'doubtful' }],
    impact: Math.round((visits / 28) * 100) / 100,
    harmAt: null,
    print: null,
    conflict: null,
  }
}
