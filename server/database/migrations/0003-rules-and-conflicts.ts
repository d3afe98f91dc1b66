import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  `ALTER TABLE domain
    ADD COLUMN slug_rules JSON NOT NULL DEFAULT '{}' AFTER trailing_slash_matters,
    ADD COLUMN mend_punctuation BOOLEAN NOT NULL DEFAULT FALSE AFTER slug_rules,
    ADD COLUMN mend_capitals BOOLEAN NOT NULL DEFAULT FALSE AFTER mend_punctuation,
    ADD COLUMN mend_look_alikes BOOLEAN NOT NULL DEFAULT FALSE AFTER mend_capitals`,
  // A slug that forwards answers as its link does. One that became the same address as its link, or ended in favour of
  // another, has no canonical form of its own; every other row has.
  `ALTER TABLE link
    MODIFY canonical VARCHAR(600) ${EXACT} NULL,
    ADD COLUMN forwards_to BIGINT UNSIGNED NULL AFTER canonical,
    ADD COLUMN exception BOOLEAN NOT NULL DEFAULT FALSE AFTER forwards_to,
    DROP CONSTRAINT link_slug,
    ADD CONSTRAINT link_slug CHECK (slug <> '' AND (canonical IS NULL OR canonical <> '')),
    ADD CONSTRAINT link_addressed CHECK (canonical IS NOT NULL OR forwards_to IS NOT NULL OR standing IN ('ended',
      'retired')),
    ADD KEY link_forwards (forwards_to),
    ADD CONSTRAINT link_leader FOREIGN KEY (forwards_to) REFERENCES link (id)`,
  `CREATE TABLE rule (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    domain_id BIGINT UNSIGNED NOT NULL,
    position INT UNSIGNED NOT NULL,
    title VARCHAR(300) NOT NULL DEFAULT '',
    syntax ENUM('path', 'expression') NOT NULL,
    pattern VARCHAR(1000) ${EXACT} NOT NULL,
    destination TEXT NOT NULL,
    status SMALLINT UNSIGNED NOT NULL,
    query ENUM('discard', 'carry') NOT NULL DEFAULT 'discard',
    query_conflict ENUM('destination', 'visitor', 'both') NOT NULL DEFAULT 'destination',
    query_mode ENUM('ignore', 'contains', 'exactly') NOT NULL DEFAULT 'ignore',
    query_text VARCHAR(500) ${EXACT} NOT NULL DEFAULT '',
    except_slugs JSON NOT NULL DEFAULT '[]',
    active BOOLEAN NOT NULL DEFAULT TRUE,
    note TEXT NOT NULL DEFAULT '',
    visits_28 INT UNSIGNED NOT NULL DEFAULT 0,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    created_at DATETIME(3) NOT NULL,
    updated_at DATETIME(3) NOT NULL,
    KEY rule_order (domain_id, position, id),
    CONSTRAINT rule_domain FOREIGN KEY (domain_id) REFERENCES domain (id),
    CONSTRAINT rule_status CHECK (status IN (301, 302, 303, 307, 308)),
    CONSTRAINT rule_filled CHECK (pattern <> '' AND destination <> '' AND CHAR_LENGTH(destination) <= 8000)
  )`,
  `CREATE TABLE rule_day (
    rule_id BIGINT UNSIGNED NOT NULL,
    day DATE NOT NULL,
    visits INT UNSIGNED NOT NULL,
    PRIMARY KEY (rule_id, day),
    KEY rule_day_day (day)
  )`,
  `ALTER TABLE visit
    ADD COLUMN rule_id BIGINT UNSIGNED NULL AFTER link_id,
    ADD COLUMN mended VARCHAR(20) NULL AFTER outcome,
    ADD KEY visit_missed (domain_id, outcome, at),
    ADD KEY visit_mended (domain_id, mended, at)`,
  `CREATE TABLE placement (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    link_id BIGINT UNSIGNED NOT NULL,
    medium VARCHAR(120) NOT NULL,
    place VARCHAR(300) NOT NULL DEFAULT '',
    placed_on DATE NULL,
    copies INT UNSIGNED NULL,
    changeable BOOLEAN NOT NULL DEFAULT FALSE,
    created_at DATETIME(3) NOT NULL,
    KEY placement_link (link_id),
    CONSTRAINT placement_of FOREIGN KEY (link_id) REFERENCES link (id) ON DELETE CASCADE,
    CONSTRAINT placement_filled CHECK (medium <> '')
  )`,
  // What a decision to keep a conflict holds for, and whom the conflict is between.
  `ALTER TABLE docket_case
    ADD COLUMN kept_print CHAR(64) ${EXACT} NULL AFTER settled_by,
    ADD COLUMN conflict JSON NULL AFTER kept_print`,
  `CREATE TABLE conflict_scan (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    state ENUM('queued', 'running', 'done', 'cancelled', 'failed') NOT NULL DEFAULT 'queued',
    phase VARCHAR(20) NOT NULL DEFAULT '',
    done INT UNSIGNED NOT NULL DEFAULT 0,
    total INT UNSIGNED NOT NULL DEFAULT 0,
    found JSON NOT NULL DEFAULT '{}',
    cancel BOOLEAN NOT NULL DEFAULT FALSE,
    asked_by VARCHAR(160) NOT NULL,
    asked_at DATETIME(3) NOT NULL,
    began_at DATETIME(3) NULL,
    ended_at DATETIME(3) NULL,
    error VARCHAR(500) NULL,
    KEY conflict_scan_state (state, id)
  )`,
  `ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', ` +
    `'organisation', 'case', 'rule') NOT NULL`,
]

export const name = '0003-rules-and-conflicts'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  for (const table of ['conflict_scan', 'placement', 'rule_day', 'rule']) await run(`DROP TABLE ${table}`)
  await run('ALTER TABLE docket_case DROP COLUMN kept_print, DROP COLUMN conflict')
  await run('ALTER TABLE visit DROP KEY visit_missed, DROP KEY visit_mended, DROP COLUMN rule_id, DROP COLUMN mended')
  await run('ALTER TABLE link DROP CONSTRAINT link_leader')
  await run('DELETE FROM link WHERE forwards_to IS NOT NULL OR canonical IS NULL')
  await run(
    `ALTER TABLE link DROP KEY link_forwards, DROP CONSTRAINT link_addressed, DROP CONSTRAINT link_slug, DROP COLUMN
      forwards_to, DROP COLUMN exception,
      MODIFY canonical VARCHAR(600) ${EXACT} NOT NULL, ADD CONSTRAINT link_slug CHECK (slug <> '' AND canonical <> '')`,
  )
  await run(
    'ALTER TABLE domain DROP COLUMN slug_rules, DROP COLUMN mend_punctuation, DROP COLUMN mend_capitals, ' +
      'DROP COLUMN mend_look_alikes',
  )
  await run(
    "ALTER TABLE ledger_entry MODIFY subject_kind ENUM('link', 'domain', 'member', 'token', " +
      "'organisation', 'case') NOT NULL",
  )
}
