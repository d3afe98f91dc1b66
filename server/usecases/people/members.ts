import { UniqueConstraintError, type Transaction } from 'sequelize'
import type { z } from 'zod'
import type { Member, memberCreate, memberPatch, OneTimeAddress } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { runChange, type Actor } from '../ledger/change'
import { versionConflict, fieldProblem, notFound } from '../problem'
import { makeOneTimeAddress } from './one-time'
import { endSecrets } from './choose-password'
import { endSessionsOf } from './sessions'

/** A member as the API tells it; `guarded` holds the ids of those with a passkey. */
const toMemberView = (member: MemberModel, guarded: ReadonlySet<number>): Member => ({
  id: member.id,
  email: member.email,
  name: member.name,
  role: member.role,
  active: member.active,
  joined: member.passwordHash !== null,
  secondFactor: Boolean(member.codeSecret) || guarded.has(member.id),
  version: member.version,
  createdAt: member.createdAt.toISOString(),
})

const memberState = (member: MemberModel) => ({
  email: member.email,
  name: member.name,
  role: member.role,
  active: member.active,
})

async function guardedMembers(db: Database, transaction?: Transaction): Promise<Set<number>> {
  const passkeys = await db.Passkey.findAll({ attributes: ['memberId'], group: ['memberId'], transaction })
  return new Set(passkeys.map(({ memberId }) => memberId))
}

export async function listMembers(db: Database): Promise<Member[]> {
  const guarded = await guardedMembers(db)
  return (await db.Member.findAll({ order: ['name', 'id'] })).map((member) => toMemberView(member, guarded))
}

/** Invites a member: who opens the one-time address, told once here, chooses the password. */
export async function createMember(
  db: Database,
  actor: Actor,
  input: z.output<typeof memberCreate>,
): Promise<Member & { address: OneTimeAddress }> {
  try {
    return await runChange(db, actor, async (change) => {
      const member = await db.Member.create(
        { email: input.email, name: input.name, role: input.role, passwordHash: null, createdAt: change.now },
        { transaction: change.transaction },
      )
      await change.record({
        action: 'create',
        subject: { kind: 'member', id: member.id, label: member.email },
        before: null,
        after: memberState(member),
      })
      const address = await makeOneTimeAddress(db, member.id, 'invitation', change.transaction)
      return { ...toMemberView(member, new Set()), address }
    })
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw fieldProblem('email', `${input.email} is a member already.`, 409)
    throw error
  }
}

/**
 * Changes a member that stands at `version`. A new role or deactivation ends the member's sessions; who is switched
 * off has no tokens after. The last active administrator stays one.
 */
export async function changeMember(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  patch: z.output<typeof memberPatch>,
): Promise<Member> {
  const fields = patch
  return runChange(db, actor, async (change) => {
    const member = await db.Member.findByPk(id, {
      transaction: change.transaction,
      lock: change.transaction.LOCK.UPDATE,
    })
    if (!member) throw notFound('member')
    const guarded = await guardedMembers(db, change.transaction)
    if (member.version !== version) throw versionConflict(member.email, toMemberView(member, guarded), fields)
    const losesAdministrator =
      member.role === 'administrator' &&
      member.active &&
      ((fields.role ?? 'administrator') !== 'administrator' || fields.active === false)
    if (
      losesAdministrator &&
      (await db.Member.count({ where: { role: 'administrator', active: true }, transaction: change.transaction })) === 1
    ) {
      throw fieldProblem(
        fields.active === false ? 'active' : 'role',
        'This is the only administrator. Make another member administrator first.',
        409,
      )
    }
    const before = memberState(member)
    await member.update({ ...fields, version: member.version + 1 }, { transaction: change.transaction })
    if (fields.role !== undefined || fields.active === false)
      await endSessionsOf(db, id, { transaction: change.transaction })
    if (fields.active === false) await endSecrets(db, change, id)
    await change.record({
      action: 'change',
      subject: { kind: 'member', id, label: member.email },
      before,
      after: memberState(member),
    })
    return toMemberView(member, guarded)
  })
}
