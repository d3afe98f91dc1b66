import { ConnectionError, ConnectionAcquireTimeoutError, DatabaseError } from 'sequelize'
import { makeLog } from '../../environment/log'
import { Problem } from '../usecases/problem'

const log = makeLog('admin')

/** What failed as what its caller is told: a refusal as it is, anything else in one sentence. */
export function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error
  const lost =
    error instanceof ConnectionError ||
    error instanceof ConnectionAcquireTimeoutError ||
    (error as { fatal?: boolean }).fatal === true ||
    (error instanceof DatabaseError && /socket|connection|closed/i.test(error.message))
  if (lost)
    return new Problem(
      503,
      'The database does not answer',
      'The database does not answer just now; nothing was saved. Try again in a moment.',
    )
  log.error(error, 'Something failed')
  return new Problem(500, 'Something failed', 'Something failed on our side; nothing was saved.')
}

/** A problem as problem details (RFC 9457). */
export const problemDetails = (problem: Problem) => ({
  ...problem.more,
  type: 'about:blank',
  title: problem.title,
  status: problem.status,
  detail: problem.detail,
  ...(problem.errors.length > 0 && { errors: problem.errors }),
})
