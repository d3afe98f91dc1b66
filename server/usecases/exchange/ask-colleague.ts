import { randomUUID } from 'node:crypto'
import { RateLimiterMemory } from 'rate-limiter-flexible'
import { askMail } from '../../../core/notices'
import type { IntakeAsk } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { Actor } from '../ledger/change'
import { mailFacts, type MailContext } from '../notices/mail-context'
import { writeMail } from '../notices/write-mail'
import { fieldProblem, notFound, Problem } from '../problem'

const asked = new RateLimiterMemory({ points: 20, duration: 3600 })

/** Asks another member, by mail, to look at a file that is not brought in yet. */
export async function askColleague(
  db: Database,
  context: MailContext,
  actor: Actor,
  id: number,
  { colleague, note }: IntakeAsk,
): Promise<void> {
  const intake = await db.Intake.findByPk(id)
  if (!intake) throw notFound('file')
  if (intake.state !== 'ready')
    throw new Problem(409, 'Not open', 'Only a file that has been read and not yet imported can be reviewed.')
  if (!context.variables.FIDES_SMTP_URL)
    throw new Problem(
      409,
      'No mails',
      'This installation sends no mails; tell your colleague the address of this page.',
    )
  const member = await db.Member.findOne({ where: { email: colleague, active: true } })
  if (!member) throw fieldProblem('colleague', `No member has the address ${colleague}.`)
  await asked.consume(actor.name).catch(() => {
    throw new Problem(429, 'Too many mails', 'At most 20 colleagues an hour are asked by one person.')
  })
  const text = askMail(await mailFacts(db, context), { by: actor.name, name: intake.name, note, to: `/exchange/${id}` })
  await writeMail(db, { mark: `ask ${randomUUID()}`, member, kind: 'ask', text })
}
