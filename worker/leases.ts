import { QueryTypes } from 'sequelize'
import type { Database } from '../server/database/open'
import { LEASE_SECONDS, underLease } from './lease'
import { jobSeconds, jobsRun } from './metrics'

/** Work the worker does again and again. */
export interface Job {
  kind: string
  everySeconds: number
  run(db: Database): Promise<unknown>
}

/** Makes sure each job has its row. */
export async function registerJobs(db: Database, jobs: readonly Job[]): Promise<void> {
  for (const job of jobs) {
    await db.sequelize.query(
      'INSERT INTO job (kind, every_seconds, due_at) VALUES (?, ?, UTC_TIMESTAMP(3)) ON DUPLICATE KEY ' +
        'UPDATE every_seconds = VALUES(every_seconds)',
      { replacements: [job.kind, job.everySeconds] },
    )
  }
}

/**
 * Claims one due job under a lease, runs it and says when it is due again. Any number of workers may call this at
 * once: rows another one holds are passed over, and a lease that ran out is claimed anew. A worker runs a job once at a
 * time, so a lease of its own is left over from when the database went away. Returns the kind run.
 */
export async function runDueJob(db: Database, jobs: readonly Job[], worker: string): Promise<string | undefined> {
  const kind = await db.sequelize.transaction(async (transaction) => {
    const [due] = await db.sequelize.query<{ kind: string }>(
      `SELECT kind FROM job WHERE due_at <= UTC_TIMESTAMP(3) AND kind IN (:kinds)
         AND (leased_until IS NULL OR leased_until < UTC_TIMESTAMP(3) OR leased_by = :worker)
       ORDER BY due_at LIMIT 1 FOR UPDATE SKIP LOCKED`,
      { replacements: { kinds: jobs.map((job) => job.kind), worker }, type: QueryTypes.SELECT, transaction },
    )
    if (!due) return undefined
    await db.sequelize.query(
      'UPDATE job SET leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? SECOND), leased_by = ? WHERE kind = ?',
      {
        replacements: [LEASE_SECONDS, worker, due.kind],
        transaction,
      },
    )
    return due.kind
  })
  const job = jobs.find((candidate) => candidate.kind === kind)
  if (!job) return undefined
  let fault: string | null = null
  const began = performance.now()
  try {
    await underLease(
      () =>
        db.sequelize.query(
          'UPDATE job SET leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? SECOND) WHERE kind = ? AND ' +
            'leased_by = ?',
          { replacements: [LEASE_SECONDS, job.kind, worker] },
        ),
      () => job.run(db),
    )
  } catch (error) {
    fault = (error as Error).message.slice(0, 500)
  }
  jobsRun.inc({ kind, outcome: fault === null ? 'done' : 'failed' })
  jobSeconds.inc({ kind }, (performance.now() - began) / 1000)
  await db.sequelize.query(
    `UPDATE job SET leased_until = NULL, leased_by = NULL,
       due_at = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL every_seconds SECOND),
       last_done_at = IF(:fault IS NULL, UTC_TIMESTAMP(3), last_done_at), last_error = :fault
     WHERE kind = :kind AND leased_by = :worker`,
    { replacements: { fault, kind: job.kind, worker } },
  )
  return job.kind
}
