import { createHash, randomBytes } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import type { z } from 'zod'
import { passwordStrength } from '../../../core/people'
import type { setup } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { runChange } from '../ledger/change'
import { hashPassword } from './password'
import { fieldProblem, Problem } from '../problem'

const hashOf = (ticket: string) => createHash('sha256').update(ticket).digest('hex')

/** A fresh one-time set-up ticket, or `undefined` where the organisation has a member already. Older tickets lapse. */
export async function makeSetupTicket(db: Database): Promise<string | undefined> {
  if ((await db.Member.count()) > 0) return undefined
  const ticket = randomBytes(24).toString('base64url')
  await db.sequelize.query('DELETE FROM setup_ticket')
  await db.sequelize.query('INSERT INTO setup_ticket (hash, created_at) VALUES (?, UTC_TIMESTAMP(3))', {
    replacements: [hashOf(ticket)],
  })
  return ticket
}

/** 403 unless the ticket is there, unused, and the organisation has no member yet. */
async function checkTicket(db: Database, ticket: string, transaction?: Transaction): Promise<void> {
  const tickets = await db.sequelize.query<{ used_at: Date | null }>(
    'SELECT used_at FROM setup_ticket WHERE hash = ?',
    { replacements: [hashOf(ticket)], type: QueryTypes.SELECT, transaction },
  )
  if (tickets.length > 0 && tickets[0]!.used_at === null && (await db.Member.count({ transaction })) === 0) return
  throw new Problem(
    403,
    'Not a set-up address',
    'This set-up address was used already or has lapsed; start Fides again for a new one.',
  )
}

/**
 * Makes the organisation and its first administrator; the ticket works once, and is looked at before anything is
 * hashed.
 */
export async function setUp(db: Database, input: z.output<typeof setup>): Promise<MemberModel> {
  await checkTicket(db, input.ticket)
  const { refusal } = passwordStrength(input.password, [input.name, input.email, input.organisation, 'fides'])
  if (refusal !== '') throw fieldProblem('password', refusal)
  const passwordHash = await hashPassword(input.password)
  await db.sequelize.query(
    "INSERT IGNORE INTO organisation (id, name, time_zone, created_at) VALUES (1, '', 'UTC', UTC_TIMESTAMP(3))",
  )
  return runChange(db, { memberId: null, name: 'set-up', role: 'administrator' }, async (change) => {
    await checkTicket(db, input.ticket, change.transaction)
    await db.sequelize.query('UPDATE setup_ticket SET used_at = UTC_TIMESTAMP(3) WHERE hash = ?', {
      replacements: [hashOf(input.ticket)],
      transaction: change.transaction,
    })
    await db.Organisation.update(
      { name: input.organisation, timeZone: input.timeZone },
      { where: { id: 1 }, transaction: change.transaction },
    )
    const member = await db.Member.create(
      { email: input.email, name: input.name, role: 'administrator', passwordHash, createdAt: change.now },
      { transaction: change.transaction },
    )
    await change.record({
      action: 'set-up',
      subject: { kind: 'organisation', id: 1, label: input.organisation },
      before: null,
      after: { name: input.organisation, timeZone: input.timeZone },
    })
    return member
  })
}
