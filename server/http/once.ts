import { createHash } from 'node:crypto'
import { getHeader, getQuery, type H3Event } from 'h3'
import { parseItem } from 'structured-headers'
import type { Operation } from '../contract/operation'
import type { Database } from '../database/open'
import { makeLog } from '../../environment/log'
import { Problem } from '../usecases/problem'
import { beginOnce, dropOnce, endOnce, underWayProblem } from '../usecases/requests/once-keys'

/** What a success is answered with. */
export interface Answer {
  body: string | Buffer
  type?: string
  etag?: string
}

const log = makeLog('admin')

const MAX_KEY = 255

/**
 * The key of the Idempotency-Key field, a string of Structured Fields (draft-ietf-httpapi-idempotency-key-header §2.1,
 * RFC 9651 §3.3.3); `undefined` where there is none.
 */
function keyOf(event: H3Event): string | undefined {
  const sent = getHeader(event, 'idempotency-key')
  if (sent === undefined) return undefined
  try {
    const [key] = parseItem(sent)
    if (typeof key === 'string' && key !== '' && key.length <= MAX_KEY) return key
  } catch {
    // Told below.
  }
  throw new Problem(
    400,
    'Idempotency-Key cannot be read',
    `Idempotency-Key must be one quoted string of 1 to ${MAX_KEY} characters, like "8e03978e-40d5".`,
  )
}

/**
 * Does a request once, however often it is sent with one key: who sends it again is given the first answer
 * (draft-ietf-httpapi-idempotency-key-header §2.6). What was refused did nothing, and leaves its key free.
 */
export async function once(
  db: Database,
  event: H3Event,
  operation: Operation,
  call: { actor: { memberId: number | null } | undefined; body: unknown; octets: Buffer },
  work: () => Promise<Answer>,
): Promise<Answer> {
  const key = operation.once ? keyOf(event) : undefined
  const member = call.actor?.memberId
  if (key === undefined || member === undefined || member === null) return work()
  const fingerprint = createHash('sha256')
    .update(JSON.stringify([operation.method, event.path.split('?')[0], getQuery(event), call.body ?? null]))
    .update(call.octets)
    .digest('hex')
  const place = `${member} ${key}`
  // Known without asking the database, which may be waiting for the very request.
  if (underWay.get(place) === fingerprint) throw underWayProblem()
  // Another request with the same key is refused below.
  if (underWay.has(place)) return carryOut(db, member, key, fingerprint, work)
  underWay.set(place, fingerprint)
  try {
    return await carryOut(db, member, key, fingerprint, work)
  } finally {
    underWay.delete(place)
  }
}

/** The fingerprints of this process's requests that are under way, by member and key. */
const underWay = new Map<string, string>()

async function carryOut(
  db: Database,
  member: number,
  key: string,
  fingerprint: string,
  work: () => Promise<Answer>,
): Promise<Answer> {
  const known = await beginOnce(db, member, key, fingerprint)
  if (known) return known
  let answer: Answer
  try {
    answer = await work()
  } catch (error) {
    // Of anything but a refusal nobody knows what became: that is told to whoever sends it again.
    if (error instanceof Problem) await dropOnce(db, member, key).catch(() => undefined)
    throw error
  }
  // It is done, and answered so, even where that could not be noted.
  await endOnce(db, member, key, answer).catch((error: unknown) => log.error(error, 'An answer was not kept'))
  return answer
}
