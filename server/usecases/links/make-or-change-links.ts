import {
  linkChange,
  linkCreate,
  type ManyLinks,
  type ManyLinksAnswer,
  type ProblemDetails,
} from '../../../core/schemas'
import type { Database } from '../../database/open'
import { checked } from '../checked'
import { runTogether, type Actor } from '../ledger/change'
import { isLockConflict } from '../ledger/lock-conflicts'
import { withTarget } from '../targets/target-view'
import { changeLink } from './change-link'
import { createLink } from './create-link'

interface Asking {
  /** Throws where whoever asks may not do this to a link, by its number; 0 for one to be made. */
  refuse(row: { id: number; body: unknown }): Promise<void>
  /** What a failure is told as. */
  tell(error: unknown): ProblemDetails
}

type Result = ManyLinksAnswer['results'][number]

/** Links written in one transaction, and for how many milliseconds it takes more: others wait for its lock. */
const MAX_TOGETHER = 25
const TOGETHER_MS = 400

/**
 * Creates and changes links one after the other, each as if it had come alone, with a ledger entry of its own. Several
 * share a transaction, so that others have their turn in between and each of them waits for others once. What is wrong
 * with one is reported for that one.
 */
export async function makeOrChangeLinks(
  db: Database,
  actor: Actor,
  { links, reason }: ManyLinks,
  { refuse, tell }: Asking,
): Promise<ManyLinksAnswer> {
  const one = async (row: unknown): Promise<Omit<Result, 'index'>> => {
    const withReason = reason !== undefined && isObject(row) ? { reason, ...row } : row
    if (isObject(row) && 'id' in row) {
      const { id, version, ...patch } = checked(linkChange, withReason)
      await refuse({ id, body: patch })
      return { status: 200, link: await changeLink(db, actor, id, version, patch) }
    }
    const input = checked(linkCreate, withReason)
    await refuse({ id: 0, body: input })
    return { status: 201, link: await createLink(db, actor, input) }
  }
  /** What some of the links come to, from one on: as many as one transaction takes. */
  async function some(first: number): Promise<Result[]> {
    const done: Result[] = []
    const until = Date.now() + TOGETHER_MS
    for (const row of links.slice(first, first + MAX_TOGETHER)) {
      const index = first + done.length
      try {
        done.push({ index, ...(await one(row)) })
      } catch (error) {
        if (isLockConflict(error)) throw error
        const problem = tell(error)
        done.push({ index, status: problem.status, problem })
      }
      if (Date.now() > until) break
    }
    return done
  }
  const results: Result[] = []
  while (results.length < links.length) {
    const first = results.length
    for (const result of await runTogether(db, actor, () => some(first)))
      results.push(result.link ? { ...result, link: await withTarget(db, result.link) } : result)
  }
  const count = (status: number) => results.filter((result) => result.status === status).length
  const [made, changed] = [count(201), count(200)]
  return { made, changed, refused: results.length - made - changed, results }
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null
