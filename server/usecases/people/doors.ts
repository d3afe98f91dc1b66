import type { Doors } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import type { SessionModel } from '../../database/models/session'
import { runChange, type Actor } from '../ledger/change'
import { notFound, Problem } from '../problem'
import type { Caller } from './caller'
import { listDoorEvents, recordSecurityEvent } from './door-log'
import { factorsOf } from './factors'
import { passkeysOf, removePasskey } from './passkeys'
import { countRecoveryCodes, makeRecoveryCodes } from './recovery-codes'
import { endSessionsOf, listSessions } from './sessions'

/** All that guards a member's own account. */
export async function readDoors(db: Database, member: MemberModel, session: SessionModel): Promise<Doors> {
  const [sessions, passkeys, recoveryCodes, events] = await Promise.all([
    listSessions(db, member.id, session.id),
    passkeysOf(db, member.id),
    countRecoveryCodes(db, member.id),
    listDoorEvents(db, member.id),
  ])
  return {
    sessions,
    passkeys: passkeys.map(({ id, name, createdAt, usedAt }) => ({
      id,
      name,
      createdAt: createdAt.toISOString(),
      usedAt: usedAt?.toISOString() ?? null,
    })),
    code: Boolean(member.codeSecret),
    recoveryCodes,
    events,
  }
}

/** Notes a factor that was added; with the first one come recovery codes, so that a lost device locks nobody out. */
export async function factorAdded(db: Database, member: MemberModel, caller: Caller): Promise<string[]> {
  await recordSecurityEvent(db, member.id, 'factor-added', caller)
  return (await countRecoveryCodes(db, member.id)) > 0 ? [] : makeRecoveryCodes(db, member.id)
}

/** Fresh recovery codes, for who has a second factor they stand in for. */
export async function renewRecoveryCodes(db: Database, member: MemberModel): Promise<string[]> {
  if ((await factorsOf(db, member)).length === 0)
    throw new Problem(
      409,
      'No second factor',
      'Add a passkey or an authenticator first; recovery codes stand in for it.',
    )
  return makeRecoveryCodes(db, member.id)
}

/** Where no other factor is left, recovery codes open nothing and go, too. */
async function tidyRecovery(db: Database, member: MemberModel): Promise<void> {
  if ((await factorsOf(db, member)).length === 0)
    await db.sequelize.query('DELETE FROM recovery_code WHERE member_id = ?', { replacements: [member.id] })
}

/** Removes a passkey of one's own, or the authenticator's time codes. */
export async function removeFactor(
  db: Database,
  member: MemberModel,
  caller: Caller,
  which: { passkey: number } | 'code',
): Promise<void> {
  if (which === 'code') {
    if (!member.codeSecret) throw notFound('authenticator')
    await member.update({ codeSecret: null, codeSecretOffered: null })
  } else await removePasskey(db, member.id, which.passkey)
  await tidyRecovery(db, member)
  await recordSecurityEvent(db, member.id, 'factor-removed', caller)
}

/** Takes away another member's second factors and ends their sessions: for who has lost the device. */
export function takeFactors(db: Database, actor: Actor, id: number, caller: Caller): Promise<void> {
  if (id === actor.memberId)
    throw new Problem(409, 'Not your own', 'Remove your own second factors in your account, one by one.')
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    const member = await db.Member.findByPk(id, { transaction })
    if (!member) throw notFound('member')
    await member.update({ codeSecret: null, codeSecretOffered: null }, { transaction })
    await db.Passkey.destroy({ where: { memberId: id }, transaction })
    await db.sequelize.query('DELETE FROM recovery_code WHERE member_id = ?', { replacements: [id], transaction })
    await endSessionsOf(db, id, { transaction })
    await change.record({
      action: 'take-factors',
      subject: { kind: 'member', id, label: member.email },
      before: null,
      after: { secondFactor: false },
    })
    await recordSecurityEvent(db, id, 'factors-taken', caller, transaction)
  })
}
