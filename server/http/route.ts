import {
  defineEventHandler,
  getHeader,
  getQuery,
  getRouterParam,
  send,
  setResponseHeader,
  setResponseStatus,
  type H3Event,
} from 'h3'
import type { z } from 'zod'
import { mayAct } from '../../core/schemas'
import type { Database } from '../database/open'
import type { MemberModel } from '../database/models/member'
import type { Operation } from '../contract/operation'
import { onBehalfOf } from '../threads/asker'
import type { Actor } from '../usecases/ledger/change'
import { checked } from '../usecases/checked'
import { Problem } from '../usecases/problem'
import type { SessionModel } from '../database/models/session'
import type { Caller } from '../usecases/people/caller'
import { noteRefusal } from '../usecases/people/door-log'
import { callerOf, isSameOrigin } from './caller'
import { useDatabase } from './context'
import { readJson, readText } from './body'
import { requireFreshPerson } from './fresh-person'
import { enforceTokenScope } from './token-scope'
import { compressFor } from './compress'
import { once, type Answer } from './once'
import { pageOf, pagingQuery, type Paging } from './paging'
import { asProblem, problemDetails } from './problem-details'
import { bearerOf, readActor, type Acting } from './session'

interface Call<Query extends z.ZodType, Body extends z.ZodType> {
  event: H3Event
  db: Database
  actor: Actor
  member: MemberModel
  /** The session a person acts in; only where the operation asks for a person. */
  session: SessionModel
  caller: Caller
  /** The `{id}` of the path; 0 where it has none. */
  id: number
  /** The `{n}` of the path, which counts from 1; 0 where it has none. */
  n: number
  /** The `{remedy}` or `{format}` of the path; empty where it has none. */
  word: string
  query: z.output<Query>
  body: z.output<Body>
  /** The octets of a text body. One that is too long is cut after one octet too many. */
  octets: Buffer
  /** The version If-Match names; 0 where the operation needs none. */
  version: number
}

/**
 * Makes a route of an operation: authorises, validates, calls, shapes. Everything refused becomes problem details
 * (RFC 9457), with a pointer for each faulty field.
 */
export function route<Query extends z.ZodType, Body extends z.ZodType>(
  operation: Operation<Query, Body>,
  handle: (call: Call<Query, Body>) => Promise<unknown>,
) {
  return defineEventHandler(async (event) => {
    setResponseHeader(event, 'Cache-Control', 'no-store')
    try {
      const db = useDatabase()
      // Before anything is awaited: a client that goes meanwhile is noticed.
      const signal = signalOf(event)
      if (!operation.foreign) refuseForeignOrigin(event)
      const caller = callerOf(event)
      const stranger = operation.role === 'stranger'
      const who = stranger ? undefined : await authorise(db, event, operation, caller)
      const asker = { key: who ? `member ${who.member.id}` : `peer ${caller.peer}`, signal }
      const call = {
        event,
        db,
        caller,
        actor: who?.actor as Actor,
        member: who?.member as MemberModel,
        session: who?.session as SessionModel,
        id: operation.path.includes('{id}') ? readNumber(event, 'id') : 0,
        n: operation.path.includes('{n}') ? readNumber(event, 'n') : 0,
        word: readWord(event, operation.path),
        query: (operation.query ? checked(operation.query, queryOf(event, operation)) : {}) as z.output<Query>,
        body: (operation.body
          ? checked(operation.body, await onBehalfOf(asker, () => readJson(event, stranger)))
          : undefined) as z.output<Body>,
        octets: operation.text ? await onBehalfOf(asker, () => readText(event, operation.text!)) : Buffer.alloc(0),
        version:
          operation.ifMatch === true || (operation.ifMatch === 'applied' && getQuery(event).dryRun !== '1')
            ? readVersion(event)
            : 0,
      }
      if (who?.actor.domains?.length)
        await enforceTokenScope(db, operation.limited, who.actor.domains, { ...call, query: getQuery(event) })
      // What is no list, thing or text is sent by its handler as it comes.
      if (!operation.answer && !operation.answers && operation.status !== 204) {
        setResponseStatus(event, operation.status)
        return await onBehalfOf(asker, () => handle(call))
      }
      const paging = operation.paged && checked(pagingQuery, getQuery(event))
      const work = async (): Promise<Answer> => answerOf(operation, await onBehalfOf(asker, () => handle(call)), paging)
      const answer = await once(db, event, operation, call, work)
      // A stream that has ended: its head was sent when it began.
      if (event.node.res.headersSent) return undefined
      setResponseStatus(event, operation.status)
      if (answer.etag !== undefined) {
        setResponseHeader(event, 'ETag', answer.etag)
        if (operation.method === 'GET' && hasAlready(event, answer.etag)) {
          setResponseStatus(event, 304)
          return send(event)
        }
      }
      const body = await compressFor(event, answer.body)
      // The same entity in other bytes: its tag is a weak one (RFC 9110 §8.8.1).
      if (answer.etag !== undefined && body !== answer.body) setResponseHeader(event, 'ETag', `W/${answer.etag}`)
      return send(event, body, answer.type)
    } catch (error) {
      return sendProblem(event, asProblem(error))
    }
  })
}

/** Whether the client has what it asks for already (RFC 9110 §13.1.2, weak comparison). */
const hasAlready = (event: H3Event, etag: string): boolean =>
  (getHeader(event, 'if-none-match') ?? '')
    .split(',')
    .some((tag) => [etag, '*'].includes(tag.trim().replace(/^W\//, '')))

/** Aborts once the client is gone before its answer is. */
function signalOf(event: H3Event): AbortSignal {
  const aborter = new AbortController()
  const { res } = event.node
  res.once('close', () => {
    if (!res.writableFinished) aborter.abort()
  })
  return aborter.signal
}

/** What the query says to the operation; of a list, how it is paged is not its concern. */
function queryOf(event: H3Event, { paged }: Operation): object {
  const query = getQuery(event)
  if (!paged) return query
  const { cursor: _cursor, limit: _limit, ...others } = query
  return others
}

/** What a success is answered with; lists that are asked for by pages give one. */
function answerOf(operation: Operation, result: unknown, paging: Paging | undefined): Answer {
  if (operation.status === 204) return { body: '' }
  if (operation.answers) return { body: result as string | Buffer, type: operation.answers }
  const paged = paging ? pageOf(result as { items: unknown[] }, paging) : result
  const version = result && typeof result === 'object' && 'version' in result ? `"${result.version}"` : undefined
  return { body: JSON.stringify(paged), type: 'application/json', etag: version }
}

async function authorise(db: Database, event: H3Event, operation: Operation, caller: Caller): Promise<Acting> {
  const role = operation.role as Exclude<Operation['role'], 'stranger'>
  const who = await readActor(db, event)
  if (!who) throw new Problem(401, 'Not signed in', 'Sign in first, or send a valid API token.')
  if (!mayAct(who.actor.role, role)) {
    if (operation.method !== 'GET') await noteRefusal(db, who.member.id, caller)
    throw new Problem(403, 'Not allowed', `This needs the role ${role}; yours is ${who.actor.role}.`)
  }
  if (!operation.person) return who
  if (!who.session)
    throw new Problem(403, 'Not available to tokens', 'Sign in to do this. API tokens are not accepted.')
  if (operation.person === 'fresh') await requireFreshPerson(db, who)
  return who
}

// The cookie is SameSite=Lax already; a request that changes something must also say that it comes from our own pages.
// One with a token brings no cookie along.
function refuseForeignOrigin(event: H3Event): void {
  const bearer = bearerOf(event)
  if (event.method === 'GET' || event.method === 'HEAD' || bearer !== undefined) return
  if (!isSameOrigin(event))
    throw new Problem(
      403,
      'Not allowed',
      'This request does not say that it comes from a page of this desk (Sec-Fetch-Site or Origin). Scripts use a ' +
        'token.',
    )
}

function readNumber(event: H3Event, parameter: 'id' | 'n'): number {
  const text = getRouterParam(event, parameter) ?? ''
  if (!/^[1-9]\d{0,15}$/.test(text)) throw new Problem(404, 'Not found', 'The ID must be a whole number.')
  return Number(text)
}

function readWord(event: H3Event, path: string): string {
  const name = (['remedy', 'format'] as const).find((one) => path.includes(`{${one}}`))
  if (name === undefined) return ''
  const text = getRouterParam(event, name) ?? ''
  if (!/^[a-z0-9-]{1,300}$/.test(text)) throw new Problem(404, 'Not found', `This ${name} does not exist.`)
  return text
}

function readVersion(event: H3Event): number {
  const match = getHeader(event, 'if-match')
  if (match === undefined)
    throw new Problem(428, 'If-Match is missing', 'Send If-Match with the entity tag from your last read.')
  const version = /^(?:W\/)?"(\d+)"$/.exec(match.trim())?.[1]
  if (version === undefined)
    throw new Problem(400, 'If-Match cannot be read', 'If-Match must hold one entity tag, like "3".')
  return Number(version)
}

export function sendProblem(event: H3Event, problem: Problem) {
  setResponseStatus(event, problem.status)
  if (problem.status === 503) setResponseHeader(event, 'Retry-After', 2)
  return send(event, JSON.stringify(problemDetails(problem)), 'application/problem+json')
}
