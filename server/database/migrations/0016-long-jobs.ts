import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'
const JOBS = ['proposal', 'intake', 'replay', 'conflict_scan', 'check_run'] as const

const STEPS = [
  // Every long job is a row of one shape: each transition names the state and version it expects, and work has a lease.
  ...JOBS.map(
    (table) =>
      `ALTER TABLE ${table}
        ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 1,
        ADD COLUMN leased_until DATETIME(3) NULL,
        ADD COLUMN resume_state VARCHAR(20) ${EXACT} NULL,
        ADD COLUMN resume_problem VARCHAR(600) NULL,
        ADD COLUMN resume_ended BOOLEAN NOT NULL DEFAULT FALSE,
        ADD COLUMN IF NOT EXISTS problem VARCHAR(600) NULL,
        ADD KEY ${table}_lease (leased_until)`,
  ),
  'ALTER TABLE conflict_scan DROP COLUMN error, DROP COLUMN cancel',
  // Nothing is under way while the database is migrated.
  `UPDATE proposal SET state = 'failed', problem = 'The calculation was interrupted; create the change again.',
    ended_at = UTC_TIMESTAMP(3) WHERE state = 'computing'`,
  "UPDATE proposal SET state = IF(at IS NULL, 'ready', 'waiting') WHERE state = 'applying'",
  `UPDATE intake SET state = 'failed', problem = 'Reading was interrupted; read the file again.',
    ended_at = UTC_TIMESTAMP(3) WHERE state = 'reading'`,
  "UPDATE intake SET state = 'ready' WHERE state = 'applying'",
  `UPDATE replay SET state = 'failed', problem = 'The replay was interrupted.', ended_at = UTC_TIMESTAMP(3)
    WHERE state = 'running'`,
  "UPDATE conflict_scan SET state = 'queued' WHERE state = 'running'",
  ...['proposal', 'intake', 'replay'].map((table) => `ALTER TABLE ${table} DROP COLUMN seen_at`),
  // Lines that a killed process left torn: visits that were answered and cannot be counted.
  'ALTER TABLE visit_batch ADD COLUMN torn INT UNSIGNED NOT NULL DEFAULT 0',
  'ALTER TABLE process_sign ADD COLUMN starts INT UNSIGNED NOT NULL DEFAULT 0',
]

export const name = '0016-long-jobs'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE process_sign DROP COLUMN starts')
  await run('ALTER TABLE visit_batch DROP COLUMN torn')
  for (const table of ['proposal', 'intake', 'replay'])
    await run(`ALTER TABLE ${table} ADD COLUMN seen_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3)`)
  await run(
    'ALTER TABLE conflict_scan ADD COLUMN error VARCHAR(500) NULL, ADD COLUMN cancel BOOLEAN NOT NULL DEFAULT FALSE',
  )
  for (const table of JOBS)
    await run(
      `ALTER TABLE ${table} DROP KEY ${table}_lease, DROP COLUMN leased_until, DROP COLUMN resume_state,
        DROP COLUMN resume_problem, DROP COLUMN resume_ended`,
    )
  for (const table of ['conflict_scan', 'check_run']) await run(`ALTER TABLE ${table} DROP COLUMN problem`)
  for (const table of ['replay', 'conflict_scan', 'check_run']) await run(`ALTER TABLE ${table} DROP COLUMN version`)
}
