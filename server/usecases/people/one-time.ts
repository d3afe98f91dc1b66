import { createHash, randomBytes } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import type { OneTimeAddress } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { runChange, type Actor } from '../ledger/change'
import { notFound, Problem } from '../problem'
import type { Caller } from './caller'
import { putPassword, refuseWeak } from './choose-password'
import { recordSecurityEvent } from './door-log'
import { hashPassword } from './password'

const LIVES_MS = { invitation: 7 * 86_400_000, reset: 24 * 3_600_000 }
type Purpose = keyof typeof LIVES_MS

const hashOf = (word: string) => createHash('sha256').update(word).digest('hex')

/** Makes a one-time address at which a member chooses a password; those made before lapse. Told once. */
export async function makeOneTimeAddress(
  db: Database,
  memberId: number,
  purpose: Purpose,
  transaction: Transaction,
): Promise<OneTimeAddress> {
  const word = randomBytes(24).toString('base64url')
  const expiresAt = new Date(Date.now() + LIVES_MS[purpose])
  await db.sequelize.query('DELETE FROM one_time_address WHERE member_id = ?', {
    replacements: [memberId],
    transaction,
  })
  await db.sequelize.query(
    'INSERT INTO one_time_address (hash, member_id, purpose, created_at, expires_at) VALUES ' +
      '(?, ?, ?, UTC_TIMESTAMP(3), ?)',
    { replacements: [hashOf(word), memberId, purpose, expiresAt], transaction },
  )
  return { path: `/welcome#${word}`, expiresAt: expiresAt.toISOString() }
}

/** Makes an address anew for a member: an invitation where no password was chosen yet, else a reset. */
export function readdress(db: Database, actor: Actor, id: number): Promise<OneTimeAddress> {
  return runChange(db, actor, async (change) => {
    const member = await db.Member.findByPk(id, { transaction: change.transaction })
    if (!member?.active) throw notFound('member')
    const purpose = member.passwordHash === null ? 'invitation' : 'reset'
    await change.record({
      action: purpose === 'invitation' ? 'invite' : 'reset-password',
      subject: { kind: 'member', id, label: member.email },
      before: null,
      after: { address: purpose },
    })
    return makeOneTimeAddress(db, id, purpose, change.transaction)
  })
}

/** Whose one-time address a word is; 403 where it was used, has lapsed or never was. */
async function memberOf(db: Database, word: string, transaction?: Transaction): Promise<MemberModel> {
  const [row] = await db.sequelize.query<{ member_id: number }>(
    'SELECT member_id FROM one_time_address WHERE hash = ? AND used_at IS NULL AND expires_at > UTC_TIMESTAMP(3)' +
      (transaction ? ' FOR UPDATE' : ''),
    { replacements: [hashOf(word)], type: QueryTypes.SELECT, transaction },
  )
  const member = row && (await db.Member.findByPk(Number(row.member_id), { transaction }))
  if (!member?.active)
    throw new Problem(
      403,
      'Not a one-time address',
      'This link has been used or has expired. Ask an administrator for a new one.',
    )
  return member
}

/** Whom a one-time address greets. */
export async function readOneTime(db: Database, word: string): Promise<{ name: string; email: string }> {
  const { name, email } = await memberOf(db, word)
  return { name, email }
}

/** Takes the password chosen at a one-time address, which works once. */
export async function chooseByAddress(
  db: Database,
  input: { word: string; password: string },
  caller: Caller,
): Promise<MemberModel> {
  const { name, email, id, role } = await memberOf(db, input.word)
  await refuseWeak(db, input.password, [name, email])
  const passwordHash = await hashPassword(input.password)
  return runChange(db, { memberId: id, name, role }, async (change) => {
    const member = await memberOf(db, input.word, change.transaction)
    await db.sequelize.query('UPDATE one_time_address SET used_at = UTC_TIMESTAMP(3) WHERE hash = ?', {
      replacements: [hashOf(input.word)],
      transaction: change.transaction,
    })
    await putPassword(db, change, member, passwordHash)
    await change.record({
      action: 'change',
      subject: { kind: 'member', id, label: email },
      before: null,
      after: { password: 'chosen' },
    })
    await recordSecurityEvent(db, id, 'password-reset', caller, change.transaction)
    return member
  })
}
