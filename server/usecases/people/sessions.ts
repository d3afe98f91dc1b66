import { createHash, randomBytes } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { SESSION_IDLE_HOURS, SESSION_WHOLE_DAYS } from '../../../core/people'
import type { OpenSession } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import type { SessionModel } from '../../database/models/session'
import { notFound } from '../problem'
import type { Caller } from './caller'
import { recordSecurityEvent } from './door-log'

const IDLE_MS = SESSION_IDLE_HOURS * 3_600_000
export const WHOLE_MS = SESSION_WHOLE_DAYS * 86_400_000
/** Whoever gave the password has so long for the second factor. */
const HALF_MS = 10 * 60_000
/** That it is used is written this often. */
const SEEN_MS = 60_000

const hashOf = (word: string) => createHash('sha256').update(word).digest('hex')

const endsAt = ({ whole, createdAt }: SessionModel): number => createdAt.getTime() + (whole ? WHOLE_MS : HALF_MS)
/** When it ends where nobody uses it any more. */
const idleUntil = (session: SessionModel): number => Math.min(session.seenAt.getTime() + IDLE_MS, endsAt(session))

/**
 * Begins a session; gives the word the browser is to hold, of which only the hash is kept. One that is not `whole`
 * still waits for the second factor and opens nothing else.
 */
export async function beginSession(
  db: Database,
  member: MemberModel,
  agent: string,
  whole: boolean,
): Promise<{ word: string; session: SessionModel }> {
  const word = randomBytes(32).toString('base64url')
  const now = new Date()
  const session = await db.Session.create({
    hash: hashOf(word),
    memberId: member.id,
    whole,
    agent,
    createdAt: now,
    seenAt: now,
    confirmedAt: now,
  })
  return { word, session }
}

/** The session of a word, with its member; `undefined` where it has ended, or its member may no more. */
export async function readSession(
  db: Database,
  word: string,
): Promise<{ session: SessionModel; member: MemberModel } | undefined> {
  const session = await db.Session.findOne({ where: { hash: hashOf(word) } })
  if (!session) return undefined
  const now = new Date()
  if (idleUntil(session) <= now.getTime()) {
    await session.destroy()
    return undefined
  }
  const member = await db.Member.findByPk(session.memberId)
  if (!member?.active) return undefined
  if (now.getTime() - session.seenAt.getTime() > SEEN_MS) await session.update({ seenAt: now })
  return { session, member }
}

/** Takes another word for a session that became whole: what was seen before is worth nothing more. */
export async function renewSession(session: SessionModel): Promise<string> {
  const word = randomBytes(32).toString('base64url')
  const now = new Date()
  await session.update({
    hash: hashOf(word),
    whole: true,
    createdAt: now,
    seenAt: now,
    confirmedAt: now,
    challenge: null,
  })
  return word
}

export const endSession = async (db: Database, word: string): Promise<void> =>
  void (await db.Session.destroy({ where: { hash: hashOf(word) } }))

/** Ends a member's sessions, all or all but one. */
export const endSessionsOf = (
  db: Database,
  memberId: number,
  options: { except?: number; transaction?: Transaction } = {},
): Promise<number> =>
  db.Session.destroy({
    where: { memberId, ...(options.except !== undefined && { id: { [Op.ne]: options.except } }) },
    transaction: options.transaction,
  })

/** Ends one session of a member's own. */
export async function endOwnSession(db: Database, memberId: number, id: number, caller: Caller): Promise<void> {
  if ((await db.Session.destroy({ where: { id, memberId } })) === 0) throw notFound('session')
  await recordSecurityEvent(db, memberId, 'session-ended', caller)
}

/** A member's sessions that are not over, the one used last first. */
export async function listSessions(db: Database, memberId: number, own: number | undefined): Promise<OpenSession[]> {
  const sessions = await db.Session.findAll({ where: { memberId, whole: true }, order: [['seenAt', 'DESC']] })
  return sessions
    .filter((session) => idleUntil(session) > Date.now())
    .map((session) => ({
      id: session.id,
      own: session.id === own,
      agent: session.agent,
      createdAt: session.createdAt.toISOString(),
      seenAt: session.seenAt.toISOString(),
      idleUntil: new Date(idleUntil(session)).toISOString(),
      endsAt: new Date(endsAt(session)).toISOString(),
    }))
}

/** Forgets sessions that are over. */
export const forgetSessions = (db: Database): Promise<number> =>
  db.Session.destroy({
    where: {
      [Op.or]: [
        { seenAt: { [Op.lt]: new Date(Date.now() - IDLE_MS) } },
        { createdAt: { [Op.lt]: new Date(Date.now() - WHOLE_MS) } },
        { whole: false, createdAt: { [Op.lt]: new Date(Date.now() - HALF_MS) } },
      ],
    },
  })
