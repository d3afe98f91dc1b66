import pLimit from 'p-limit'
import { MOST_FILE, type LogReplay } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { startThread } from '../../threads/start-thread'
import type { FromLog, LogWork } from '../../threads/log-thread'
import { fieldProblem, Problem } from '../problem'
import { findIntake, refuseClosed } from './intakes'

const turns = pLimit(1)
const MOST_WAITING = 5
const MOST_MS = 120_000

/** Puts an old server’s log to the table as it would be with a file brought in: how many visitors would still land. */
export async function replayLog(db: Database, databaseUrl: string, id: number, octets: Buffer): Promise<LogReplay> {
  const intake = await findIntake(db, id)
  refuseClosed(intake)
  if (octets.length > MOST_FILE)
    throw new Problem(413, 'Too large', `A log can be at most ${MOST_FILE / 1_000_000} MB; take the last days of it.`)
  if (octets.length === 0) throw fieldProblem('log', 'The log is empty.')
  if (turns.pendingCount >= MOST_WAITING)
    throw new Problem(503, 'Busy', 'Other logs are being read already; try again in a minute.')
  const told = await turns(() => inThread({ databaseUrl, intake: id, host: intake.options.domain, octets }))
  if (told.lines > 0 && told.unread === told.lines)
    throw fieldProblem('log', 'No line of it is one of a log in Common or Combined Log Format.')
  return told
}

const inThread = (workerData: LogWork) =>
  new Promise<LogReplay>((resolve, reject) => {
    const thread = startThread('log-thread', { workerData, resourceLimits: { maxOldGenerationSizeMb: 900 } })
    const overdue = setTimeout(() => {
      reject(new Problem(422, 'Too much at once', 'Reading the log took longer than two minutes; take less of it.'))
      void thread.terminate()
    }, MOST_MS)
    thread.on('message', (told: FromLog) => {
      if ('result' in told) resolve(told.result)
      else reject(new Error(told.problem))
    })
    thread.on('error', reject)
    thread.on('exit', () => {
      clearTimeout(overdue)
      reject(new Error('the thread ended'))
    })
  })
