import { literal, Op } from 'sequelize'
import { changeMail } from '../../../core/notices'
import type { Database } from '../../database/open'
import { countChanges } from '../changes/apply-proposal'
import { mailFacts, momentIn, type MailContext } from './mail-context'
import { tellWebhooks } from './tell-webhooks'
import { writeMail } from './write-mail'

const STATES = ['applied', 'held', 'failed'] as const

/** Tells whoever set a change for a moment that it was made or held, and webhooks that want to know; once each. */
export async function tellChanges(db: Database, context: MailContext): Promise<void> {
  const rows = await db.Proposal.findAll({
    where: {
      at: { [Op.ne]: null },
      state: [...STATES],
      [Op.and]: literal("COALESCE(told_state, '') <> CONCAT(state, ' ', version)"),
    },
    limit: 100,
  })
  if (rows.length === 0) return
  const facts = await mailFacts(db, context)
  for (const row of rows) {
    const state = row.state as (typeof STATES)[number]
    const told = `${row.state} ${row.version}`
    const links = await countChanges(db, row.id)
    const member = row.memberId === null ? null : await db.Member.findByPk(row.memberId)
    await db.sequelize.transaction(async (transaction) => {
      // One that was changed meanwhile is looked at again.
      const [mine] = await db.Proposal.update(
        { toldState: told },
        { where: { id: row.id, state: row.state, version: row.version }, transaction },
      )
      if (mine === 0) return
      await tellWebhooks(
        db,
        state === 'applied' ? 'change.applied' : 'change.held',
        `change ${row.id} ${told}`,
        {
          change: row.id,
          words: row.words,
          links,
          at: row.at!.toISOString(),
          by: row.actor,
          problem: state === 'applied' ? null : row.problem,
        },
        transaction,
      )
      if (context.variables.FIDES_SMTP_URL === undefined || !member?.active) return
      const text = changeMail(facts, {
        id: row.id,
        words: row.words,
        links,
        at: momentIn(facts.timeZone, row.at!),
        state,
        problem: row.problem,
      })
      await writeMail(db, { mark: `change ${row.id} ${told}`, member, kind: 'change', text }, transaction)
    })
  }
}
