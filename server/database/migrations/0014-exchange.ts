import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  // A file that was brought in: read, compared with the register, decided row by row, and applied as one.
  `CREATE TABLE intake (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    state ENUM('reading', 'ready', 'applying', 'applied', 'withdrawn', 'failed') NOT NULL,
    member_id BIGINT UNSIGNED NULL,
    actor VARCHAR(160) NOT NULL,
    role VARCHAR(20) ${EXACT} NOT NULL,
    name VARCHAR(300) NOT NULL,
    options JSON NOT NULL,
    format VARCHAR(40) ${EXACT} NOT NULL DEFAULT '',
    read_as VARCHAR(300) NOT NULL DEFAULT '',
    line_count INT UNSIGNED NOT NULL DEFAULT 0,
    about JSON NOT NULL DEFAULT '{}',
    reason VARCHAR(500) NOT NULL DEFAULT '',
    step VARCHAR(40) NOT NULL DEFAULT '',
    total INT UNSIGNED NOT NULL DEFAULT 0,
    done INT UNSIGNED NOT NULL DEFAULT 0,
    problem VARCHAR(600) NOT NULL DEFAULT '',
    entry_id BIGINT UNSIGNED NULL,
    made_at DATETIME(3) NOT NULL,
    seen_at DATETIME(3) NOT NULL,
    ended_at DATETIME(3) NULL,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    KEY intake_made (made_at)
  )`,
  // Its files, packed, so that they can be read again otherwise; gone when it is.
  `CREATE TABLE intake_source (
    intake_id BIGINT UNSIGNED NOT NULL,
    part INT UNSIGNED NOT NULL,
    body MEDIUMBLOB NOT NULL,
    PRIMARY KEY (intake_id, part),
    CONSTRAINT intake_source_intake FOREIGN KEY (intake_id) REFERENCES intake (id) ON DELETE CASCADE
  )`,
  `CREATE TABLE intake_row (
    intake_id BIGINT UNSIGNED NOT NULL,
    position INT UNSIGNED NOT NULL,
    file VARCHAR(300) NOT NULL DEFAULT '',
    line INT UNSIGNED NOT NULL,
    column_at INT UNSIGNED NOT NULL DEFAULT 1,
    kind ENUM('new', 'rule', 'same', 'clash', 'refused') NOT NULL,
    code VARCHAR(40) ${EXACT} NOT NULL DEFAULT '',
    decision ENUM('bring', 'paused', 'replace', 'leave') NULL,
    address VARCHAR(900) NOT NULL DEFAULT '',
    destination TEXT NULL,
    status SMALLINT UNSIGNED NULL,
    state JSON NULL,
    before_state JSON NULL,
    link_id BIGINT UNSIGNED NULL,
    link_version INT UNSIGNED NULL,
    family INT UNSIGNED NULL,
    hash CHAR(64) ${EXACT} NULL,
    source VARCHAR(300) NOT NULL DEFAULT '',
    why VARCHAR(900) NOT NULL DEFAULT '',
    would VARCHAR(500) NOT NULL DEFAULT '',
    PRIMARY KEY (intake_id, position),
    KEY intake_row_kind (intake_id, kind, position),
    KEY intake_row_code (intake_id, code),
    KEY intake_row_hash (hash),
    CONSTRAINT intake_row_intake FOREIGN KEY (intake_id) REFERENCES intake (id) ON DELETE CASCADE
  )`,
  // What was done within another entry: rules that came with links. Told with that entry, undone with it.
  'ALTER TABLE ledger_entry ADD COLUMN part_of BIGINT UNSIGNED NULL, ADD KEY ledger_part_of (part_of)',
]

export const name = '0014-exchange'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE ledger_entry DROP KEY ledger_part_of, DROP COLUMN part_of')
  for (const table of ['intake_row', 'intake_source', 'intake']) await run(`DROP TABLE ${table}`)
}
