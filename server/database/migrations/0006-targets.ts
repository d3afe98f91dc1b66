import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'
const VERDICT = `VARCHAR(24) ${EXACT}`

const STEPS = [
  // One row for each destination, however many links lead there.
  `CREATE TABLE target (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    hash VARCHAR(64) ${EXACT} NOT NULL,
    destination TEXT NOT NULL,
    host VARCHAR(255) ${EXACT} NOT NULL,
    verdict ${VERDICT} NULL,
    confidence ENUM('sound', 'doubtful', 'broken') NULL,
    sentence TEXT NULL,
    final TEXT NULL,
    since DATETIME(3) NULL,
    standing JSON NULL,
    title VARCHAR(300) NOT NULL DEFAULT '',
    card JSON NULL,
    frames JSON NULL,
    evidence JSON NULL,
    checked_at DATETIME(3) NULL,
    checks INT UNSIGNED NOT NULL DEFAULT 0,
    head_works BOOLEAN NULL,
    urgent BOOLEAN NOT NULL DEFAULT FALSE,
    due_at DATETIME(3) NOT NULL,
    leased_until DATETIME(3) NULL,
    leased_by VARCHAR(120) ${EXACT} NULL,
    remedies JSON NULL,
    remedies_at DATETIME(3) NULL,
    remedies_due BOOLEAN NOT NULL DEFAULT FALSE,
    made_at DATETIME(3) NOT NULL,
    UNIQUE KEY target_hash (hash),
    KEY target_due (urgent, due_at),
    KEY target_host (host),
    KEY target_remedies (remedies_due),
    KEY target_confidence (confidence),
    KEY target_checked (checked_at)
  )`,
  `CREATE TABLE target_check (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    target_id BIGINT UNSIGNED NOT NULL,
    at DATETIME(3) NOT NULL,
    verdict ${VERDICT} NOT NULL,
    failed BOOLEAN NOT NULL,
    milliseconds INT UNSIGNED NOT NULL,
    evidence JSON NULL,
    KEY target_check_target (target_id, at),
    KEY target_check_at (at),
    CONSTRAINT target_check_target FOREIGN KEY (target_id) REFERENCES target (id) ON DELETE CASCADE
  )`,
  // Politeness among all workers: when a host may be asked next, and who is asking it.
  `CREATE TABLE target_host (
    host VARCHAR(255) ${EXACT} NOT NULL PRIMARY KEY,
    next_at DATETIME(3) NOT NULL
  )`,
  `CREATE TABLE target_turn (
    host VARCHAR(255) ${EXACT} NOT NULL,
    place SMALLINT UNSIGNED NOT NULL,
    free_at DATETIME(3) NOT NULL,
    PRIMARY KEY (host, place)
  )`,
  // Checks that somebody asked for, with how far they are.
  `CREATE TABLE check_run (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    total INT UNSIGNED NOT NULL,
    state ENUM('running', 'done', 'cancelled') NOT NULL DEFAULT 'running',
    asked_by VARCHAR(160) NOT NULL,
    asked_at DATETIME(3) NOT NULL,
    ended_at DATETIME(3) NULL
  )`,
  `CREATE TABLE check_run_target (
    run_id BIGINT UNSIGNED NOT NULL,
    target_id BIGINT UNSIGNED NOT NULL,
    done BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (run_id, target_id),
    KEY check_run_target_target (target_id, done),
    CONSTRAINT check_run_target_run FOREIGN KEY (run_id) REFERENCES check_run (id) ON DELETE CASCADE
  )`,
  // One entry may tell of many links; followers and histories find them here.
  `ALTER TABLE ledger_entry MODIFY subject_kind
    ENUM('link', 'domain', 'member', 'token', 'organisation', 'case', 'rule', 'links') NOT NULL`,
  `CREATE TABLE ledger_entry_link (
    entry_id BIGINT UNSIGNED NOT NULL,
    link_id BIGINT UNSIGNED NOT NULL,
    PRIMARY KEY (entry_id, link_id),
    KEY ledger_entry_link_link (link_id, entry_id)
  )`,
  // What the register is filtered and ordered by.
  `ALTER TABLE link ADD COLUMN target_rank TINYINT UNSIGNED NOT NULL DEFAULT 0 AFTER visits_28,
    ADD KEY link_by_target (target_rank, visits_28, id)`,
  `ALTER TABLE organisation
    ADD COLUMN check_networks JSON NOT NULL DEFAULT '[]',
    ADD COLUMN check_per_host SMALLINT UNSIGNED NOT NULL DEFAULT 2,
    ADD COLUMN check_per_second DECIMAL(5, 2) NOT NULL DEFAULT 1,
    ADD COLUMN check_contact VARCHAR(254) NOT NULL DEFAULT '',
    ADD COLUMN broken_after SMALLINT UNSIGNED NOT NULL DEFAULT 3,
    ADD COLUMN broken_over_minutes INT UNSIGNED NOT NULL DEFAULT 120,
    ADD COLUMN checks_paused_since DATETIME(3) NULL,
    ADD COLUMN version INT UNSIGNED NOT NULL DEFAULT 1`,
]

export const name = '0006-targets'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run(
    `ALTER TABLE organisation DROP COLUMN check_networks, DROP COLUMN check_per_host, DROP COLUMN check_per_second,
      DROP COLUMN check_contact, DROP COLUMN broken_after, DROP COLUMN broken_over_minutes,
      DROP COLUMN checks_paused_since, DROP COLUMN version`,
  )
  await run('ALTER TABLE link DROP KEY link_by_target, DROP COLUMN target_rank')
  for (const table of ['check_run_target', 'check_run', 'target_turn', 'target_host', 'target_check', 'target'])
    await run(`DROP TABLE ${table}`)
  await run('DROP TABLE ledger_entry_link')
  // An older release knows no entry about several links.
  await run("DELETE FROM ledger_entry WHERE subject_kind = 'links'")
  await run(
    `ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', 'organisation', 'case',
      'rule') NOT NULL`,
  )
  await run(`DELETE FROM docket_case WHERE lane = 'targets'`)
}
