import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

/** A rule's state as the ledger keeps it, with what it asks of the query as a condition. */
const ledgerConditions = (column: string) => `UPDATE ledger_entry SET ${column} = JSON_REMOVE(
    JSON_MERGE_PATCH(${column}, CONCAT('{"condition":', IF(JSON_VALUE(${column}, '$.queryMode') = 'ignore', '[]',
      JSON_ARRAY(JSON_OBJECT('kind', 'query', 'mode', JSON_VALUE(${column}, '$.queryMode'),
        'text', JSON_VALUE(${column}, '$.queryText')))), '}')),
    '$.queryMode', '$.queryText')
  WHERE subject_kind = 'rule' AND JSON_EXISTS(${column}, '$.queryMode')`

const STEPS = [
  // Addresses are kept folded and compared octet for octet: é is not e.
  'UPDATE member SET email = LOWER(email)',
  `ALTER TABLE member MODIFY email VARCHAR(254) ${EXACT} NOT NULL`,
  `CREATE TABLE sign_in_try (
    \`key\` VARCHAR(255) ${EXACT} NOT NULL PRIMARY KEY,
    points INT NOT NULL DEFAULT 0,
    expire BIGINT UNSIGNED NULL,
    KEY sign_in_try_expire (expire)
  )`,
  // What a rule asks of the query becomes the first kind of condition; a rule that asked nothing has an empty one.
  `ALTER TABLE rule ADD COLUMN visitor_condition JSON NOT NULL DEFAULT '[]' AFTER query_conflict`,
  `UPDATE rule SET visitor_condition = JSON_ARRAY(JSON_OBJECT('kind', 'query', 'mode', query_mode, 'text', query_text))
    WHERE query_mode <> 'ignore'`,
  'ALTER TABLE rule DROP COLUMN query_mode, DROP COLUMN query_text',
  ledgerConditions('before_state'),
  ledgerConditions('after_state'),
  // A conflict is known by what it is between alone: the domain it is told under may be another tomorrow.
  `DELETE FROM docket_case WHERE lane = 'conflicts' AND id NOT IN (
    SELECT id FROM (SELECT MAX(id) AS id FROM docket_case WHERE lane = 'conflicts'
      GROUP BY kind, JSON_VALUE(conflict, '$.key')) newest)`,
  `UPDATE docket_case SET case_key = SHA2(CONCAT('conflicts\n',
      CONVERT(kind USING utf8mb4) COLLATE utf8mb4_bin, '\n\n\n',
      CONVERT(JSON_VALUE(conflict, '$.key') USING utf8mb4) COLLATE utf8mb4_bin), 256)
    WHERE lane = 'conflicts' AND conflict IS NOT NULL`,
  // What a case's urgency is reckoned from, and the links it is about.
  `ALTER TABLE docket_case
    ADD COLUMN share DECIMAL(6, 5) NOT NULL DEFAULT 1 AFTER impact,
    ADD COLUMN harm_at DATETIME(3) NULL AFTER share,
    ADD COLUMN irrevocable BOOLEAN NOT NULL DEFAULT FALSE AFTER harm_at,
    ADD COLUMN remark BOOLEAN NOT NULL DEFAULT FALSE AFTER irrevocable,
    ADD COLUMN print CHAR(64) ${EXACT} NULL AFTER settled_by`,
  `UPDATE docket_case SET remark = kind IN ('chain', 'twins') AND severity <> 'broken'`,
  `CREATE TABLE docket_case_link (
    case_id BIGINT UNSIGNED NOT NULL,
    link_id BIGINT UNSIGNED NOT NULL,
    PRIMARY KEY (case_id, link_id),
    KEY docket_case_link_link (link_id, case_id),
    CONSTRAINT docket_case_link_case FOREIGN KEY (case_id) REFERENCES docket_case (id) ON DELETE CASCADE
  )`,
]

export const name = '0004-one-place'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('DROP TABLE docket_case_link')
  await run(
    `ALTER TABLE docket_case DROP COLUMN share, DROP COLUMN harm_at, DROP COLUMN irrevocable, DROP COLUMN remark,
      DROP COLUMN print`,
  )
  await run('DROP TABLE sign_in_try')
  await run(
    `ALTER TABLE rule
      ADD COLUMN query_mode ENUM('ignore', 'contains', 'exactly') NOT NULL DEFAULT 'ignore' AFTER query_conflict,
      ADD COLUMN query_text VARCHAR(500) ${EXACT} NOT NULL DEFAULT '' AFTER query_mode`,
  )
  await run(
    `UPDATE rule r JOIN JSON_TABLE(r.visitor_condition, '$[*]' COLUMNS (
        kind VARCHAR(20) PATH '$.kind', mode VARCHAR(20) PATH '$.mode', text VARCHAR(500) PATH '$.text')) c
      ON c.kind = 'query' SET r.query_mode = c.mode, r.query_text = c.text`,
  )
  await run('ALTER TABLE rule DROP COLUMN visitor_condition')
  await run('ALTER TABLE member MODIFY email VARCHAR(254) NOT NULL')
}
