import type { QueryInterface } from 'sequelize'

// Slugs compare byte for byte and without padding: 'abc ' is not 'abc'.
const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const TABLES = [
  `CREATE TABLE organisation (
    id TINYINT UNSIGNED NOT NULL PRIMARY KEY CHECK (id = 1),
    name VARCHAR(120) NOT NULL,
    time_zone VARCHAR(64) NOT NULL DEFAULT 'UTC',
    revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
    created_at DATETIME(3) NOT NULL
  )`,
  `CREATE TABLE setup_ticket (
    hash CHAR(64) ${EXACT} NOT NULL PRIMARY KEY,
    created_at DATETIME(3) NOT NULL,
    used_at DATETIME(3) NULL
  )`,
  `CREATE TABLE member (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    email VARCHAR(254) NOT NULL,
    name VARCHAR(120) NOT NULL CHECK (name <> ''),
    role ENUM('administrator', 'editor', 'viewer') NOT NULL,
    password_hash VARCHAR(255) ${EXACT} NULL,
    session_epoch INT UNSIGNED NOT NULL DEFAULT 0,
    active BOOLEAN NOT NULL DEFAULT TRUE,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    created_at DATETIME(3) NOT NULL,
    UNIQUE KEY member_email (email)
  )`,
  `CREATE TABLE domain (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    host VARCHAR(253) ${EXACT} NOT NULL,
    standing ENUM('not-proved', 'proved', 'spreading', 'open', 'drifted') NOT NULL DEFAULT 'not-proved',
    capitals_matter BOOLEAN NOT NULL DEFAULT TRUE,
    trailing_slash_matters BOOLEAN NOT NULL DEFAULT FALSE,
    default_status SMALLINT UNSIGNED NOT NULL DEFAULT 302 CHECK (default_status IN (301, 302, 303, 307, 308)),
    permanence_seconds INT UNSIGNED NOT NULL DEFAULT 86400 CHECK (permanence_seconds <= 31536000),
    root_destination TEXT NULL,
    not_found_destination TEXT NULL,
    ended_destination TEXT NULL,
    app_schemes JSON NOT NULL DEFAULT '[]',
    version INT UNSIGNED NOT NULL DEFAULT 1,
    created_at DATETIME(3) NOT NULL,
    updated_at DATETIME(3) NOT NULL,
    UNIQUE KEY domain_host (host),
    CONSTRAINT domain_host_form CHECK (host <> '' AND host = LOWER(host))
  )`,
  `CREATE TABLE link (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    domain_id BIGINT UNSIGNED NOT NULL,
    slug VARCHAR(200) ${EXACT} NOT NULL,
    canonical VARCHAR(600) ${EXACT} NOT NULL,
    destination TEXT NOT NULL,
    destination_hash CHAR(64) ${EXACT} NOT NULL,
    status SMALLINT UNSIGNED NOT NULL,
    query ENUM('discard', 'carry') NOT NULL DEFAULT 'discard',
    query_conflict ENUM('destination', 'visitor', 'both') NOT NULL DEFAULT 'destination',
    title VARCHAR(300) NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '',
    owner VARCHAR(120) NOT NULL DEFAULT '',
    standing ENUM('live', 'paused', 'ended', 'retired') NOT NULL DEFAULT 'live',
    starts_at DATETIME(3) NULL,
    ends_at DATETIME(3) NULL,
    resumes_at DATETIME(3) NULL,
    ended_destination TEXT NULL,
    robots VARCHAR(120) NULL,
    referrer_policy VARCHAR(40) NULL,
    search_text BLOB NOT NULL DEFAULT '',
    visits_28 INT UNSIGNED NOT NULL DEFAULT 0,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    created_at DATETIME(3) NOT NULL,
    updated_at DATETIME(3) NOT NULL,
    UNIQUE KEY link_address (domain_id, canonical),
    KEY link_twins (destination_hash),
    KEY link_by_visits (visits_28, id),
    KEY link_by_change (updated_at, id),
    KEY link_by_making (created_at, id),
    KEY link_by_slug (canonical, id),
    CONSTRAINT link_domain FOREIGN KEY (domain_id) REFERENCES domain (id),
    CONSTRAINT link_status CHECK (status IN (301, 302, 303, 307, 308)),
    CONSTRAINT link_slug CHECK (slug <> '' AND canonical <> ''),
    CONSTRAINT link_well_known CHECK (canonical <> '.well-known' AND canonical NOT LIKE '.well-known/%'),
    CONSTRAINT link_destination CHECK (destination <> '' AND CHAR_LENGTH(destination) <= 8000),
    CONSTRAINT link_dates CHECK (starts_at IS NULL OR ends_at IS NULL OR ends_at > starts_at)
  )`,
  `CREATE TABLE tag (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    name VARCHAR(60) NOT NULL CHECK (name <> ''),
    UNIQUE KEY tag_name (name)
  )`,
  `CREATE TABLE link_tag (
    link_id BIGINT UNSIGNED NOT NULL,
    tag_id BIGINT UNSIGNED NOT NULL,
    PRIMARY KEY (link_id, tag_id),
    KEY link_tag_by_tag (tag_id, link_id),
    CONSTRAINT link_tag_link FOREIGN KEY (link_id) REFERENCES link (id) ON DELETE CASCADE,
    CONSTRAINT link_tag_tag FOREIGN KEY (tag_id) REFERENCES tag (id)
  )`,
  `CREATE TABLE ledger_entry (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    revision BIGINT UNSIGNED NOT NULL,
    at DATETIME(3) NOT NULL,
    member_id BIGINT UNSIGNED NULL,
    actor VARCHAR(160) NOT NULL,
    action VARCHAR(40) NOT NULL,
    subject_kind ENUM('link', 'domain', 'member', 'token', 'organisation') NOT NULL,
    subject_id BIGINT UNSIGNED NOT NULL,
    subject_label VARCHAR(500) NOT NULL,
    reason VARCHAR(500) NOT NULL DEFAULT '',
    before_state JSON NULL,
    after_state JSON NULL,
    undoes_id BIGINT UNSIGNED NULL,
    undone_by_id BIGINT UNSIGNED NULL,
    UNIQUE KEY ledger_revision (revision),
    KEY ledger_subject (subject_kind, subject_id, id),
    KEY ledger_member (member_id, id),
    CONSTRAINT ledger_undoes FOREIGN KEY (undoes_id) REFERENCES ledger_entry (id),
    CONSTRAINT ledger_undone FOREIGN KEY (undone_by_id) REFERENCES ledger_entry (id),
    CONSTRAINT ledger_states CHECK (before_state IS NOT NULL OR after_state IS NOT NULL)
  )`,
  `CREATE TABLE visit_batch (
    batch_key VARCHAR(120) ${EXACT} NOT NULL PRIMARY KEY,
    received_at DATETIME(3) NOT NULL,
    events INT UNSIGNED NOT NULL
  )`,
  // No foreign keys: visits arrive in bulk, and outlive nothing that could be deleted.
  `CREATE TABLE visit (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    at DATETIME(3) NOT NULL,
    domain_id BIGINT UNSIGNED NOT NULL,
    link_id BIGINT UNSIGNED NULL,
    kind ENUM('visit', 'head', 'prefetch', 'preview', 'robot', 'other-method', 'page') NOT NULL,
    status SMALLINT UNSIGNED NOT NULL,
    outcome VARCHAR(20) NOT NULL,
    path VARCHAR(600) ${EXACT} NULL,
    referrer_host VARCHAR(255) NULL,
    country CHAR(2) NULL,
    language VARCHAR(8) NULL,
    device VARCHAR(20) NULL,
    system VARCHAR(40) NULL,
    browser VARCHAR(60) NULL,
    visitor BINARY(16) NULL,
    KEY visit_link (link_id, at),
    KEY visit_at (at)
  )`,
  `CREATE TABLE visit_day (
    link_id BIGINT UNSIGNED NOT NULL,
    day DATE NOT NULL,
    visits INT UNSIGNED NOT NULL,
    PRIMARY KEY (link_id, day),
    KEY visit_day_day (day)
  )`,
  `CREATE TABLE visitor_key (
    day DATE NOT NULL PRIMARY KEY,
    secret BINARY(32) NOT NULL
  )`,
  `CREATE TABLE api_token (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    member_id BIGINT UNSIGNED NOT NULL,
    name VARCHAR(120) NOT NULL CHECK (name <> ''),
    hash CHAR(64) ${EXACT} NOT NULL,
    scope ENUM('read', 'write', 'administer') NOT NULL,
    created_at DATETIME(3) NOT NULL,
    expires_at DATETIME(3) NULL,
    last_used_at DATETIME(3) NULL,
    revoked_at DATETIME(3) NULL,
    UNIQUE KEY api_token_hash (hash),
    CONSTRAINT api_token_member FOREIGN KEY (member_id) REFERENCES member (id)
  )`,
  `CREATE TABLE job (
    kind VARCHAR(60) ${EXACT} NOT NULL PRIMARY KEY,
    every_seconds INT UNSIGNED NOT NULL,
    due_at DATETIME(3) NOT NULL,
    leased_until DATETIME(3) NULL,
    leased_by VARCHAR(120) NULL,
    last_done_at DATETIME(3) NULL,
    last_error VARCHAR(500) NULL
  )`,
  `CREATE TABLE process_sign (
    process VARCHAR(120) ${EXACT} NOT NULL PRIMARY KEY,
    seen_at DATETIME(3) NOT NULL
  )`,
]

const NAMES = TABLES.map((sql) => /CREATE TABLE (\w+)/.exec(sql)![1]!)

export const name = '0001-first-tables'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of TABLES) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  for (const table of NAMES.reverse()) await context.sequelize.query(`DROP TABLE ${table}`)
}
