import { MAX_FILE, type LogReplay } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { FairTurns } from '../../threads/fair-turns'
import { runOnce } from '../../threads/run-once'
import type { LogWork } from '../../threads/log-process'
import { fieldProblem, Problem } from '../problem'
import { findIntake, refuseClosed } from './intakes'

const turns = new FairTurns({ atOnce: 2, waiting: 5, waitingPerAsker: 1, what: 'logs' })
const MAX_MS = 120_000
const MAX_MEGABYTES = 900

/** Puts an old server’s log to the table as it would be with a file brought in: how many visitors would still land. */
export async function replayLog(db: Database, databaseUrl: string, id: number, octets: Buffer): Promise<LogReplay> {
  const intake = await findIntake(db, id)
  refuseClosed(intake)
  if (octets.length > MAX_FILE)
    throw new Problem(413, 'Too large', `A log can be at most ${MAX_FILE / 1_000_000} MB; take the last days of it.`)
  if (octets.length === 0) throw fieldProblem('log', 'The log is empty.')
  const work: LogWork = { databaseUrl, intake: id, host: intake.options.domain, octets }
  const late = 'Reading the log took longer than two minutes; take less of it.'
  const told = await turns.run((signal) =>
    runOnce<LogReplay>('log-process', work, { mostMs: MAX_MS, mostMegabytes: MAX_MEGABYTES, late, signal }),
  )
  if (told.lines > 0 && told.unread === told.lines)
    throw fieldProblem('log', 'No line of it is one of a log in Common or Combined Log Format.')
  return told
}
