import { JOB_KINDS, type JobKind } from '../../../core/jobs'
import type { Database } from '../../database/open'
import { jobTable } from './job-table'

/** Gives back all jobs whose worker was killed, of every kind; returns how many. */
export async function giveBackJobs(db: Database): Promise<number> {
  let count = 0
  for (const kind of JOB_KINDS) count += await jobTable(db, kind as JobKind).giveBack()
  return count
}
