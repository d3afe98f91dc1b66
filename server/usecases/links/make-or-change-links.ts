import {
  linkChange,
  linkCreate,
  type ManyLinks,
  type ManyLinksAnswer,
  type ProblemDetails,
} from '../../../core/schemas'
import type { Database } from '../../database/open'
import { checked } from '../checked'
import type { Actor } from '../ledger/change'
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

/**
 * Makes and changes links one after the other, each as if it had come alone: in a transaction and a ledger entry of its
 * own. What is wrong with one is told of that one.
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
      return { status: 200, link: await withTarget(db, await changeLink(db, actor, id, version, patch)) }
    }
    const input = checked(linkCreate, withReason)
    await refuse({ id: 0, body: input })
    return { status: 201, link: await withTarget(db, await createLink(db, actor, input)) }
  }
  const results: Result[] = []
  for (const [index, row] of links.entries()) {
    try {
      results.push({ index, ...(await one(row)) })
    } catch (error) {
      const problem = tell(error)
      results.push({ index, status: problem.status, problem })
    }
  }
  const count = (status: number) => results.filter((result) => result.status === status).length
  const [made, changed] = [count(201), count(200)]
  return { made, changed, refused: results.length - made - changed, results }
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null
