import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'
const PATH = `VARCHAR(600) ${EXACT}`

const STEPS = [
  // Requests that found nothing, as the gateway stores them; whoever has counted them takes them out.
  `CREATE TABLE miss_event (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    kind ENUM('miss', 'robot', 'followed', 'mended') NOT NULL,
    at DATETIME(3) NOT NULL,
    domain_id BIGINT UNSIGNED NOT NULL,
    path ${PATH} NOT NULL,
    link_id BIGINT UNSIGNED NULL,
    visitor BINARY(16) NULL,
    country CHAR(2) NULL,
    referrer VARCHAR(400) NULL
  )`,
  // What was not stored one by one, as there was too much of it.
  `CREATE TABLE miss_cut (
    domain_id BIGINT UNSIGNED NOT NULL,
    hour DATETIME(3) NOT NULL,
    requests BIGINT UNSIGNED NOT NULL,
    PRIMARY KEY (domain_id, hour)
  )`,
  `CREATE TABLE miss (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    domain_id BIGINT UNSIGNED NOT NULL,
    path ${PATH} NOT NULL,
    shape ${PATH} NOT NULL,
    link_id BIGINT UNSIGNED NULL,
    first_at DATETIME(3) NOT NULL,
    last_at DATETIME(3) NOT NULL,
    requests_28 INT UNSIGNED NOT NULL DEFAULT 0,
    visitors_28 INT UNSIGNED NOT NULL DEFAULT 0,
    noise ENUM('sign', 'robots', 'scatter', 'decided', 'shape') NULL,
    noise_why VARCHAR(200) NOT NULL DEFAULT '',
    answered BOOLEAN NOT NULL DEFAULT FALSE,
    answered_at DATETIME(3) NULL,
    answered_by JSON NULL,
    ranking JSON NULL,
    likely DECIMAL(6, 5) NOT NULL DEFAULT 0,
    followed JSON NOT NULL DEFAULT '{}',
    countries JSON NOT NULL DEFAULT '{}',
    due BOOLEAN NOT NULL DEFAULT TRUE,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    UNIQUE KEY miss_path (domain_id, path),
    KEY miss_shape (domain_id, shape(200)),
    KEY miss_demand (answered, noise, visitors_28, id),
    KEY miss_due (due),
    KEY miss_last (last_at)
  )`,
  `CREATE TABLE miss_day (
    miss_id BIGINT UNSIGNED NOT NULL,
    day DATE NOT NULL,
    requests INT UNSIGNED NOT NULL DEFAULT 0,
    visitors INT UNSIGNED NOT NULL DEFAULT 0,
    robots INT UNSIGNED NOT NULL DEFAULT 0,
    served INT UNSIGNED NOT NULL DEFAULT 0,
    PRIMARY KEY (miss_id, day),
    KEY miss_day_day (day)
  )`,
  // Tokens of the day, to count each visitor once and to tell who looks for holes; gone after two days.
  `CREATE TABLE miss_visitor (
    day DATE NOT NULL,
    visitor BINARY(16) NOT NULL,
    miss_id BIGINT UNSIGNED NOT NULL,
    scattered BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (day, visitor, miss_id)
  )`,
  `CREATE TABLE miss_referrer (
    miss_id BIGINT UNSIGNED NOT NULL,
    referrer VARCHAR(400) ${EXACT} NOT NULL,
    requests INT UNSIGNED NOT NULL,
    last_at DATETIME(3) NOT NULL,
    told_at DATETIME(3) NULL,
    told_by VARCHAR(160) NULL,
    PRIMARY KEY (miss_id, referrer)
  )`,
  // A link nobody is told of who did not ask for it.
  `ALTER TABLE link ADD COLUMN unlisted BOOLEAN NOT NULL DEFAULT FALSE AFTER referrer_policy`,
  // The name, words and languages of a domain's own pages.
  `ALTER TABLE domain ADD COLUMN pages JSON NOT NULL DEFAULT '{}' AFTER app_schemes`,
  `ALTER TABLE ledger_entry MODIFY subject_kind
    ENUM('link', 'domain', 'member', 'token', 'organisation', 'case', 'rule', 'links', 'miss') NOT NULL`,
]

export const name = '0007-misses'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  for (const table of ['miss_referrer', 'miss_visitor', 'miss_day', 'miss', 'miss_cut', 'miss_event'])
    await run(`DROP TABLE ${table}`)
  await run('ALTER TABLE link DROP COLUMN unlisted')
  await run('ALTER TABLE domain DROP COLUMN pages')
  // An older release knows no entry about a miss.
  await run("DELETE FROM ledger_entry WHERE subject_kind = 'miss'")
  await run(
    `ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', 'organisation', 'case',
      'rule', 'links') NOT NULL`,
  )
  await run(`DELETE FROM docket_case WHERE lane = 'misses'`)
}
