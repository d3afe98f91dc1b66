import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  `ALTER TABLE domain
    ADD COLUMN proof_token VARCHAR(64) ${EXACT} NOT NULL DEFAULT '' AFTER app_schemes,
    ADD COLUMN registrar VARCHAR(120) NOT NULL DEFAULT '' AFTER proof_token,
    ADD COLUMN expires_on DATE NULL AFTER registrar,
    ADD COLUMN first_year_price DECIMAL(10, 2) NULL AFTER expires_on,
    ADD COLUMN yearly_price DECIMAL(10, 2) NULL AFTER first_year_price,
    ADD COLUMN currency CHAR(3) NOT NULL DEFAULT 'EUR' AFTER yearly_price,
    ADD COLUMN privacy ENUM('unknown', 'on', 'off') NOT NULL DEFAULT 'unknown' AFTER currency,
    ADD CONSTRAINT domain_prices CHECK ((first_year_price IS NULL OR first_year_price >= 0) AND (yearly_price IS NULL
      OR yearly_price >= 0))`,
  `UPDATE domain SET proof_token = LOWER(HEX(RANDOM_BYTES(16)))`,
  `CREATE TABLE domain_zone (
    domain_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    origin VARCHAR(1100) ${EXACT} NOT NULL,
    text MEDIUMBLOB NOT NULL,
    pushed_text MEDIUMBLOB NULL,
    source ENUM('file', 'transfer', 'asked') NOT NULL,
    told_by VARCHAR(300) NOT NULL DEFAULT '',
    read_at DATETIME(3) NOT NULL,
    CONSTRAINT domain_zone_domain FOREIGN KEY (domain_id) REFERENCES domain (id) ON DELETE CASCADE
  )`,
  // The secret is sealed (AES-256-GCM) under a key of the installation.
  `CREATE TABLE update_key (
    domain_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    server VARCHAR(80) ${EXACT} NOT NULL,
    key_name VARCHAR(260) ${EXACT} NOT NULL,
    secret_sealed VARBINARY(400) NOT NULL,
    CONSTRAINT update_key_domain FOREIGN KEY (domain_id) REFERENCES domain (id) ON DELETE CASCADE
  )`,
  // What the watch knows of a domain; not a person's change, so outside version and ledger.
  `CREATE TABLE domain_watch (
    domain_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    due_at DATETIME(3) NOT NULL,
    leased_until DATETIME(3) NULL,
    looked_at DATETIME(3) NULL,
    why VARCHAR(120) NOT NULL DEFAULT '',
    zone_origin VARCHAR(1100) ${EXACT} NULL,
    servers JSON NOT NULL DEFAULT '[]',
    servers_at DATETIME(3) NULL,
    lowered_at DATETIME(3) NULL,
    changed_at DATETIME(3) NULL,
    old_ttl INT UNSIGNED NOT NULL DEFAULT 0,
    everyone_by DATETIME(3) NULL,
    reach JSON NULL,
    certificate JSON NULL,
    KEY domain_watch_due (due_at),
    CONSTRAINT domain_watch_domain FOREIGN KEY (domain_id) REFERENCES domain (id) ON DELETE CASCADE
  )`,
  `INSERT INTO domain_watch (domain_id, due_at) SELECT id, UTC_TIMESTAMP(3) FROM domain`,
  // The list of domains counts links by standing from the index alone.
  'ALTER TABLE link ADD KEY link_domain_standing (domain_id, standing)',
  // One row as long as an answer stays the same; latest marks the newest of each server and question.
  `CREATE TABLE observation (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    domain_id BIGINT UNSIGNED NOT NULL,
    latest BOOLEAN NOT NULL DEFAULT TRUE,
    role ENUM('authority', 'resolver') NOT NULL,
    server VARCHAR(255) ${EXACT} NOT NULL,
    name VARCHAR(1100) ${EXACT} NOT NULL,
    type VARCHAR(20) ${EXACT} NOT NULL,
    status ENUM('answered', 'none', 'lame', 'refused', 'failed', 'silent') NOT NULL,
    data JSON NOT NULL,
    ttl INT UNSIGNED NULL,
    ttl_at DATETIME(3) NOT NULL,
    first_at DATETIME(3) NOT NULL,
    last_at DATETIME(3) NOT NULL,
    KEY observation_latest (domain_id, latest),
    KEY observation_age (latest, last_at),
    CONSTRAINT observation_domain FOREIGN KEY (domain_id) REFERENCES domain (id) ON DELETE CASCADE
  )`,
  `CREATE TABLE docket_case (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    lane ENUM('targets', 'misses', 'conflicts', 'domains', 'dates') NOT NULL,
    kind VARCHAR(40) ${EXACT} NOT NULL,
    case_key CHAR(64) ${EXACT} NOT NULL,
    domain_id BIGINT UNSIGNED NULL,
    link_id BIGINT UNSIGNED NULL,
    subject VARCHAR(500) NOT NULL,
    severity ENUM('broken', 'doubtful') NOT NULL,
    headline VARCHAR(300) NOT NULL,
    sentence TEXT NOT NULL,
    evidence JSON NOT NULL,
    impact DECIMAL(12, 2) NOT NULL DEFAULT 0,
    state ENUM('open', 'set-aside', 'settled') NOT NULL DEFAULT 'open',
    set_aside_until DATETIME(3) NULL,
    reason VARCHAR(500) NOT NULL DEFAULT '',
    settled_by VARCHAR(160) NULL,
    opened_at DATETIME(3) NOT NULL,
    reopened_at DATETIME(3) NULL,
    settled_at DATETIME(3) NULL,
    seen_at DATETIME(3) NOT NULL,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    UNIQUE KEY docket_case_key (case_key),
    KEY docket_case_rank (state, lane, impact, id),
    KEY docket_case_domain (domain_id, state),
    CONSTRAINT docket_case_aside CHECK (state <> 'set-aside' OR set_aside_until IS NOT NULL)
  )`,
  `ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', ` +
    `'organisation', 'case') NOT NULL`,
]

export const name = '0002-domains-and-cases'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  for (const table of ['docket_case', 'observation', 'domain_watch', 'update_key', 'domain_zone'])
    await context.sequelize.query(`DROP TABLE ${table}`)
  await context.sequelize.query('ALTER TABLE link DROP KEY link_domain_standing')
  await context.sequelize.query(
    'ALTER TABLE domain DROP CONSTRAINT domain_prices, DROP COLUMN proof_token, DROP COLUMN registrar, ' +
      'DROP COLUMN expires_on, DROP COLUMN first_year_price, DROP COLUMN yearly_price, DROP COLUMN ' +
      'currency, DROP COLUMN privacy',
  )
  await context.sequelize.query(
    "ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', 'organisation') NOT NULL",
  )
}
