import { ConnectionError, ConnectionAcquireTimeoutError, DatabaseError } from 'sequelize'
import { makeLog } from '../../environment/log'
import { Problem } from '../usecases/problem'

const log = makeLog('admin')

/** What failed as what its caller is told: a refusal as it is, anything else in one sentence. */
export function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error
  if (isDiskFull(error))
    return new Problem(
      503,
      'The disk is full',
      'The disk of the database is full; nothing was saved. Free some space, then try again.',
    )
  if (error instanceof ConnectionAcquireTimeoutError)
    return new Problem(
      503,
      'Too much at once',
      'Too many changes are being written just now; nothing of this one was saved. Try again in a moment.',
    )
  const lost =
    error instanceof ConnectionError ||
    (error as { fatal?: boolean }).fatal === true ||
    (error instanceof DatabaseError && /socket|connection|closed/i.test(error.message))
  if (lost)
    return new Problem(
      503,
      'The database does not answer',
      'The database is not responding. Nothing was saved. Try again in a moment.',
    )
  log.error(error, 'Server error')
  return new Problem(500, 'Server error', 'Nothing was saved. Try again; if it happens again, tell the operator.')
}

/** Errors by which MariaDB says that it cannot write: disk full, table full, error on write, error from the engine. */
const DISK_ERRNOS = new Set([1021, 1114, 1026, 1030, 3])

/** Whether a disk is full, that of the database or our own (ENOSPC, 28). */
function isDiskFull(error: unknown): boolean {
  const { original, code } = error as { original?: { errno?: number; sqlMessage?: string }; code?: string }
  if (code === 'ENOSPC') return true
  const { errno, sqlMessage = '' } = original ?? {}
  if (errno === undefined || !DISK_ERRNOS.has(errno)) return false
  return errno === 1021 || errno === 1114 || /\b28\b|no space left|disk full/i.test(sqlMessage)
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
