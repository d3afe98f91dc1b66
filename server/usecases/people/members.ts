import { UniqueConstraintError } from 'sequelize'
import type { z } from 'zod'
import type { Member, memberCreate, memberPatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { runChange, type Actor } from '../ledger/change'
import { hashPassword } from './password'
import { changedMeanwhile, fieldProblem, notHere } from '../problem'

/** A member as the API tells it. */
export const toMemberView = (member: MemberModel): Member => ({
  id: member.id,
  email: member.email,
  name: member.name,
  role: member.role,
  active: member.active,
  version: member.version,
  createdAt: member.createdAt.toISOString(),
})

const memberState = (member: MemberModel) => ({
  email: member.email,
  name: member.name,
  role: member.role,
  active: member.active,
})

export const listMembers = async (db: Database): Promise<Member[]> =>
  (await db.Member.findAll({ order: ['name', 'id'] })).map(toMemberView)

/** Adds a member. */
export async function createMember(db: Database, actor: Actor, input: z.output<typeof memberCreate>): Promise<Member> {
  const passwordHash = await hashPassword(input.password)
  try {
    return await runChange(db, actor, async (change) => {
      const member = await db.Member.create(
        { email: input.email, name: input.name, role: input.role, passwordHash, createdAt: change.now },
        { transaction: change.transaction },
      )
      await change.record({
        action: 'create',
        subject: { kind: 'member', id: member.id, label: member.email },
        before: null,
        after: memberState(member),
      })
      return toMemberView(member)
    })
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw fieldProblem('email', `${input.email} is a member already.`, 409)
    throw error
  }
}

/**
 * Changes a member that stands at `version`. A new password, role or deactivation ends the member's sessions. The
 * last active administrator stays one.
 */
export async function changeMember(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  patch: z.output<typeof memberPatch>,
): Promise<Member> {
  const { password, ...fields } = patch
  const passwordHash = password === undefined ? undefined : await hashPassword(password)
  return runChange(db, actor, async (change) => {
    const member = await db.Member.findByPk(id, {
      transaction: change.transaction,
      lock: change.transaction.LOCK.UPDATE,
    })
    if (!member) throw notHere('member')
    if (member.version !== version) throw changedMeanwhile(member.email, toMemberView(member), fields)
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
        'This is the last administrator; make somebody else one first.',
        409,
      )
    }
    const before = memberState(member)
    const endsSessions = passwordHash !== undefined || fields.role !== undefined || fields.active === false
    await member.update(
      {
        ...fields,
        ...(passwordHash && { passwordHash }),
        version: member.version + 1,
        sessionEpoch: member.sessionEpoch + (endsSessions ? 1 : 0),
      },
      { transaction: change.transaction },
    )
    const after = { ...memberState(member), ...(passwordHash && { password: 'changed' }) }
    await change.record({ action: 'change', subject: { kind: 'member', id, label: member.email }, before, after })
    return toMemberView(member)
  })
}
