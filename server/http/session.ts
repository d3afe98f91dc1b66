import type { H3Event } from 'h3'
import { getHeader } from 'h3'
import type { Role, Session } from '../../core/schemas'
import type { Database } from '../database/open'
import type { MemberModel } from '../database/models/member'
import type { Actor } from '../usecases/ledger/change'
import { actorOfToken } from '../usecases/people/tokens'

declare module '#auth-utils' {
  interface User {
    id: number
    epoch: number
  }
}

const actorOf = (member: MemberModel, role: Role): Actor => ({ memberId: member.id, name: member.name, role })

/**
 * Who acts in a request: by bearer token, else by the sealed session cookie. The member is read each time, so that a
 * role taken away or a session ended counts at once.
 */
export async function readActor(
  db: Database,
  event: H3Event,
): Promise<{ actor: Actor; member: MemberModel } | undefined> {
  const bearer = /^Bearer (\S+)$/i.exec(getHeader(event, 'authorization') ?? '')?.[1]
  if (bearer !== undefined) {
    const found = await actorOfToken(db, bearer)
    return found && { actor: actorOf(found.member, found.role), member: found.member }
  }
  const { user } = await getUserSession(event)
  if (!user) return undefined
  const member = await db.Member.findByPk(user.id)
  if (!member?.active || member.sessionEpoch !== user.epoch) return undefined
  return { actor: actorOf(member, member.role), member }
}

/** Gives the browser a session for this member. */
export async function startSession(event: H3Event, member: MemberModel): Promise<void> {
  await setUserSession(event, { user: { id: member.id, epoch: member.sessionEpoch } })
}

/** A session as the API tells it. */
export async function toSessionView(db: Database, member: MemberModel, role: Role = member.role): Promise<Session> {
  const organisation = await db.Organisation.findByPk(1)
  return {
    member: { id: member.id, email: member.email, name: member.name, role },
    organisation: { name: organisation?.name ?? '', timeZone: organisation?.timeZone ?? 'UTC' },
  }
}
