import { QueryTypes } from 'sequelize'
import { CHECK_RUN_JOB } from '../../../core/jobs'
import type { CheckRequest, CheckRun } from '../../../core/schemas'
import type { CheckRunModel } from '../../database/models/check-run'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { jobTable } from '../jobs/job-table'
import type { Actor } from '../ledger/change'
import { fieldProblem, notFound, Problem } from '../problem'
import { CHECKED_LINKS, ensureTargets } from './link-targets'

/** Runs under way of one person at a time; more would only wait for each other. */
const MAX_RUNS = 5

/**
 * Has destinations checked now: those of some links, of a domain, or all. Identical destinations are asked once; the
 * workers take them up before all others, as politely as ever.
 */
export async function askForChecks(db: Database, actor: Actor, request: CheckRequest): Promise<CheckRun> {
  const running = await db.CheckRun.count({ where: { state: 'running', askedBy: actor.name.slice(0, 160) } })
  if (running >= MAX_RUNS)
    throw new Problem(
      429,
      'Checks are under way',
      `${MAX_RUNS} checks you asked for are still running; stop one, or wait for it to end.`,
    )
  const where = await whichLinks(db, request)
  await ensureTargets(db, null)
  const run = await db.sequelize.transaction(async (transaction) => {
    const made = await db.CheckRun.create(
      { total: 0, askedBy: actor.name.slice(0, 160), askedAt: new Date() },
      { transaction },
    )
    await db.sequelize.query(
      `INSERT IGNORE INTO check_run_target (run_id, target_id)
       SELECT :run, t.id FROM link l JOIN target t ON t.hash = l.destination_hash
       WHERE ${CHECKED_LINKS} AND ${where.sql}`,
      { replacements: { ...where.replacements, run: made.id }, transaction },
    )
    const [count] = await db.sequelize.query<{ total: number }>(
      'SELECT COUNT(*) AS total FROM check_run_target WHERE run_id = ?',
      { replacements: [made.id], type: QueryTypes.SELECT, transaction },
    )
    await made.update({ total: Number(count!.total) }, { transaction })
    return made
  })
  if (run.total === 0) await end(db, run, 'done')
  await db.sequelize.query(
    `UPDATE target t JOIN check_run_target x ON x.target_id = t.id
     SET t.urgent = TRUE, t.due_at = LEAST(t.due_at, UTC_TIMESTAMP(3)) WHERE x.run_id = ?`,
    { replacements: [run.id] },
  )
  return readRun(db, run.id)
}

async function whichLinks(
  db: Database,
  { links, domain }: CheckRequest,
): Promise<{ sql: string; replacements: Record<string, unknown> }> {
  if (links) {
    const known = await db.Link.count({ where: { id: links } })
    if (known < new Set(links).size) throw fieldProblem('links', 'One of these links does not exist. Reload the list.')
    return { sql: links.length > 0 ? 'l.id IN (:links)' : 'FALSE', replacements: { links } }
  }
  if (domain) return { sql: 'l.domain_id = :domain', replacements: { domain: (await findDomainNamed(db, domain)).id } }
  return { sql: 'TRUE', replacements: {} }
}

/** How far a run is, and how what it checked so far stands. */
export async function readRun(db: Database, id: number): Promise<CheckRun> {
  const run = await db.CheckRun.findByPk(id)
  if (!run) throw notFound('run of checks')
  const rows = await db.sequelize.query<{ done: number; confidence: string | null; targets: number }>(
    `SELECT x.done, t.confidence, COUNT(*) AS targets FROM check_run_target x LEFT JOIN target t ON t.id = x.target_id
     WHERE x.run_id = ? GROUP BY x.done, t.confidence`,
    { replacements: [id], type: QueryTypes.SELECT },
  )
  const done = rows.filter((row) => Number(row.done) === 1)
  const count = (confidence: string) =>
    done.filter((row) => row.confidence === confidence).reduce((sum, row) => sum + Number(row.targets), 0)
  const finished = done.reduce((sum, row) => sum + Number(row.targets), 0)
  // Two targets that ended together may each have taken the other for unfinished.
  if (run.state === 'running' && finished >= run.total && (await end(db, run, 'done'))) await run.reload()
  const organisation = await db.Organisation.findByPk(1, { attributes: ['checksPausedSince'] })
  return {
    id: run.id,
    total: run.total,
    done: finished,
    state: run.state,
    counts: { sound: count('sound'), doubtful: count('doubtful'), broken: count('broken') },
    askedBy: run.askedBy,
    askedAt: run.askedAt.toISOString(),
    endedAt: run.endedAt?.toISOString() ?? null,
    pausedSince: organisation?.checksPausedSince?.toISOString() ?? null,
  }
}

/** Ends a run that was read as running; false where it had ended otherwise by then. */
const end = (db: Database, { id, version }: CheckRunModel, to: 'done' | 'cancelled'): Promise<boolean> =>
  jobTable(db, CHECK_RUN_JOB).move(
    { id, state: 'running', version: version! },
    { to, values: { ended_at: new Date() } },
  )

/** Stops a run: what of it was not asked yet is due as it was, some time later. */
export async function cancelRun(db: Database, id: number): Promise<void> {
  const run = await db.CheckRun.findByPk(id)
  if (!run) throw notFound('run of checks')
  if (run.state !== 'running') return
  if (!(await end(db, run, 'cancelled'))) return
  await db.sequelize.query(
    `UPDATE target t JOIN check_run_target x ON x.target_id = t.id
     SET t.urgent = FALSE, t.due_at = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL 60 + RAND() * 3600 SECOND)
     WHERE x.run_id = :id AND NOT x.done AND t.urgent AND t.leased_until IS NULL AND t.checked_at IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM check_run_target y JOIN check_run r ON r.id = y.run_id
         WHERE y.target_id = t.id AND NOT y.done AND r.state = 'running')`,
    { replacements: { id } },
  )
}
