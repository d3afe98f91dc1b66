import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'
import { deleteCookie, getCookie, getHeader, setCookie, type H3Event } from 'h3'
import type { Role, Session, SignedIn } from '../../core/schemas'
import type { Database } from '../database/open'
import type { MemberModel } from '../database/models/member'
import type { SessionModel } from '../database/models/session'
import type { Actor } from '../usecases/ledger/change'
import { Problem } from '../usecases/problem'
import { factorsOf } from '../usecases/people/factors'
import { beginSession, endSession, readSession, WHOLE_MS } from '../usecases/people/sessions'
import { actorOfToken } from '../usecases/people/tokens'
import { recordSecurityEvent } from '../usecases/people/door-log'
import { callerOf } from './caller'

/** Bound to this very host, to TLS and to the whole path (RFC 6265bis §4.1.3.2). */
const COOKIE = '__Host-fides'
const ATTRIBUTES = { path: '/', secure: true, httpOnly: true, sameSite: 'lax' } as const

/** Who acts in a request. */
export interface Acting {
  actor: Actor
  member: MemberModel
  /** The session, where a person acts in one; a token has none. */
  session: SessionModel | undefined
}

const actorOf = (member: MemberModel, role: Role, domains?: readonly number[]): Actor => ({
  memberId: member.id,
  name: member.name,
  role,
  domains,
})

/** So long somebody is known who was seen while the database answered. */
const KNOWN_MS = 600_000
/** Nobody waits longer for a database that takes a question and does not answer it. */
const PATIENCE_MS = 1200
const known = new LRUCache<string, Role>({ max: 1000, ttl: KNOWN_MS })

/** What a request shows of who asks, as a key that gives nothing away. */
function shownBy(event: H3Event): string | undefined {
  const shown = getHeader(event, 'authorization') ?? getCookie(event, COOKIE)
  return shown && createHash('sha256').update(shown).digest('base64url')
}

/**
 * The role of who asks, also while the database is away: then as it was lately. For telling how things stand, and for
 * nothing else.
 */
export async function roleLately(db: Database, event: H3Event): Promise<Role | undefined> {
  const key = shownBy(event)
  if (key === undefined) return undefined
  const late = new Promise<'late'>((resolve) => setTimeout(() => resolve('late'), PATIENCE_MS).unref())
  const found = await Promise.race([readActor(db, event).catch(() => 'late' as const), late])
  return found === 'late' ? known.get(key) : found?.actor.role
}

/**
 * Who acts in a request: by bearer token, else by the session whose word the cookie holds. Both are read each time, so
 * that a role taken away or a session ended counts at once. `half` takes a session that waits for a second factor.
 */
export async function readActor(db: Database, event: H3Event, half = false): Promise<Acting | undefined> {
  const found = await findActor(db, event, half)
  const key = half ? undefined : shownBy(event)
  if (key !== undefined && found) known.set(key, found.actor.role)
  else if (key !== undefined) known.delete(key)
  return found
}

/**
 * The token a request brings (RFC 6750 §2.1). Any other `Authorization` is refused with 401: it would otherwise stand
 * for whatever the cookie beside it may do.
 */
export function bearerOf(event: H3Event): string | undefined {
  const header = getHeader(event, 'authorization')
  if (header === undefined) return undefined
  const bearer = /^Bearer +([A-Za-z0-9\-._~+/]+=*)$/i.exec(header)?.[1]
  if (bearer === undefined)
    throw new Problem(401, 'Not signed in', 'The Authorization field must read “Bearer”, a space and an API token.')
  return bearer
}

/** The word of the browser's session; none beside a token, which counts alone. */
const wordOf = (event: H3Event): string | undefined =>
  getHeader(event, 'authorization') === undefined ? getCookie(event, COOKIE) : undefined

async function findActor(db: Database, event: H3Event, half: boolean): Promise<Acting | undefined> {
  const bearer = bearerOf(event)
  if (bearer !== undefined) {
    const found = await actorOfToken(db, bearer)
    return (
      found && { actor: actorOf(found.member, found.role, found.domains), member: found.member, session: undefined }
    )
  }
  const word = wordOf(event)
  const found = word === undefined ? undefined : await readSession(db, word)
  if (!found || found.session.whole === half) return undefined
  return { actor: actorOf(found.member, found.member.role), member: found.member, session: found.session }
}

const TYPED = '__Host-fides-typed'

/** Keeps the e-mail address of a refused sign-in form for the page that is shown next. */
export function keepTyped(event: H3Event, email: string): void {
  if (email !== '' && email.length <= 254) setCookie(event, TYPED, email, { ...ATTRIBUTES, maxAge: 60 })
}

/** The e-mail address of a form that was just refused; given once. */
export function takeTyped(event: H3Event): string {
  const email = getCookie(event, TYPED)
  if (email !== undefined) deleteCookie(event, TYPED, ATTRIBUTES)
  return email ?? ''
}

export function giveWord(event: H3Event, word: string): void {
  setCookie(event, COOKIE, word, { ...ATTRIBUTES, maxAge: WHOLE_MS / 1000 })
}

/** Gives the browser a session for this member, which ends the one it had; one with second factors is asked for one. */
export async function startSession(db: Database, event: H3Event, member: MemberModel): Promise<SignedIn> {
  const caller = callerOf(event)
  await stopSession(db, event)
  const needs = await factorsOf(db, member)
  const { word } = await beginSession(db, member, caller.agent, needs.length === 0)
  giveWord(event, word)
  if (needs.length > 0) return { needs }
  await recordSecurityEvent(db, member.id, 'signed-in', caller)
  return toSessionView(db, member)
}

/** Ends the browser's session, here and there. */
export async function stopSession(db: Database, event: H3Event): Promise<void> {
  const word = wordOf(event)
  if (word === undefined) return
  await endSession(db, word)
  deleteCookie(event, COOKIE, ATTRIBUTES)
}

/** A session as the API tells it. */
export async function toSessionView(db: Database, member: MemberModel, role: Role = member.role): Promise<Session> {
  const organisation = await db.Organisation.findByPk(1)
  return {
    member: { id: member.id, email: member.email, name: member.name, role },
    organisation: { name: organisation?.name ?? '', timeZone: organisation?.timeZone ?? 'UTC' },
  }
}
