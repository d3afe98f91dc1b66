import type { QueryInterface } from 'sequelize'

const STEPS = [
  // Requests that are sent again with the same key are carried out once; their answers are kept for a day.
  `CREATE TABLE once_key (
    member_id BIGINT UNSIGNED NOT NULL,
    key_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    fingerprint CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    done BOOLEAN NOT NULL DEFAULT FALSE,
    type VARCHAR(120) NULL,
    etag VARCHAR(120) NULL,
    body MEDIUMTEXT NULL,
    made_at DATETIME(3) NOT NULL,
    PRIMARY KEY (member_id, key_hash),
    KEY once_key_made (made_at),
    CONSTRAINT once_key_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  // Rows of a file are found by their file, and looked through together: other keys only cost time as they are written.
  'ALTER TABLE intake_row DROP KEY intake_row_hash, DROP KEY intake_row_code',
  "ALTER TABLE mail MODIFY kind ENUM('at-once', 'digest', 'change', 'trial', 'report', 'ask') NOT NULL",
]

export const name = '0015-once-keys'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run("DELETE FROM mail WHERE kind = 'ask'")
  await run("ALTER TABLE mail MODIFY kind ENUM('at-once', 'digest', 'change', 'trial', 'report') NOT NULL")
  await run('ALTER TABLE intake_row ADD KEY intake_row_hash (hash), ADD KEY intake_row_code (intake_id, code)')
  await run('DROP TABLE once_key')
}
