import { passwordStrength } from '../../../core/people'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import type { SessionModel } from '../../database/models/session'
import { runChange, type Actor, type Change } from '../ledger/change'
import { fieldProblem } from '../problem'
import type { Caller } from './caller'
import { recordSecurityEvent } from './door-log'
import { hashPassword, verifyPassword } from './password'
import { countTry, forgetTries } from './limit-tries'
import { endSessionsOf } from './sessions'

/** Refuses a password that would soon be guessed (422), with what would be right. */
export async function refuseWeak(db: Database, password: string, about: readonly string[]): Promise<void> {
  const organisation = await db.Organisation.findByPk(1)
  const { refusal } = passwordStrength(password, [...about, organisation?.name ?? '', 'fides'])
  if (refusal !== '') throw fieldProblem('password', refusal)
}

/**
 * Puts a password in place within a change: all other sessions end, and with them every token, every feed's address and
 * every open one-time address: a person who knew the old password may have made them.
 */
export async function putPassword(
  db: Database,
  change: Change,
  member: MemberModel,
  passwordHash: string,
  options: { keepSession?: number } = {},
): Promise<void> {
  const { transaction } = change
  await member.update({ passwordHash, version: member.version + 1 }, { transaction })
  await endSessionsOf(db, member.id, { except: options.keepSession, transaction })
  await endSecrets(db, change, member.id)
}

/** Ends all secrets of a member that work without a password: tokens, addresses of feeds, open one-time addresses. */
export async function endSecrets(db: Database, { transaction, now }: Change, memberId: number): Promise<void> {
  await db.ApiToken.update({ revokedAt: now }, { where: { memberId, revokedAt: null }, transaction })
  await db.FeedAddress.destroy({ where: { memberId }, transaction })
  await db.sequelize.query('DELETE FROM one_time_address WHERE member_id = ? AND used_at IS NULL', {
    replacements: [memberId],
    transaction,
  })
}

/** Changes one's own password; needs the present one. */
export async function changePassword(
  db: Database,
  actor: Actor,
  who: { member: MemberModel; session: SessionModel },
  caller: Caller,
  input: { present: string; password: string },
): Promise<void> {
  const { member, session } = who
  await countTry(db, `member ${member.id}`, caller.peer, () =>
    recordSecurityEvent(db, member.id, 'too-many-tries', caller),
  )
  if (!member.passwordHash || !(await verifyPassword(input.present, member.passwordHash))) {
    await recordSecurityEvent(db, member.id, 'wrong-password', caller)
    throw fieldProblem('present', 'Wrong current password.')
  }
  await forgetTries(db, `member ${member.id}`, caller.peer)
  await refuseWeak(db, input.password, [member.name, member.email])
  const passwordHash = await hashPassword(input.password)
  await runChange(db, actor, async (change) => {
    await putPassword(db, change, member, passwordHash, { keepSession: session.id })
    await change.record({
      action: 'change',
      subject: { kind: 'member', id: member.id, label: member.email },
      before: null,
      after: { password: 'changed' },
    })
    await recordSecurityEvent(db, member.id, 'password-changed', caller, change.transaction)
  })
}
