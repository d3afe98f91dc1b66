import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  // Requests by people that no link took under its own address, by day of the organisation's time zone.
  `CREATE TABLE stray_day (
    day DATE NOT NULL,
    domain_id BIGINT UNSIGNED NOT NULL,
    print BINARY(16) NOT NULL,
    path VARCHAR(600) ${EXACT} NOT NULL,
    language VARCHAR(8) ${EXACT} NOT NULL,
    outcome VARCHAR(20) ${EXACT} NOT NULL,
    mended VARCHAR(20) ${EXACT} NOT NULL,
    link_id BIGINT UNSIGNED NOT NULL DEFAULT 0,
    rule_id BIGINT UNSIGNED NOT NULL DEFAULT 0,
    requests INT UNSIGNED NOT NULL,
    last_at DATETIME(3) NOT NULL,
    PRIMARY KEY (day, domain_id, print)
  )`,
  `INSERT INTO stray_day
     SELECT DATE(at), domain_id, UNHEX(MD5(CONCAT_WS('\\0', path, COALESCE(language, ''), outcome, COALESCE(mended, ''),
         COALESCE(link_id, 0), COALESCE(rule_id, 0)))) AS print,
       path, COALESCE(language, ''), outcome, COALESCE(mended, ''), COALESCE(link_id, 0), COALESCE(rule_id, 0),
       COUNT(*), MAX(at)
     FROM visit WHERE kind IN ('visit', 'page') AND path IS NOT NULL AND (link_id IS NULL OR mended <> '')
     GROUP BY DATE(at), domain_id, print`,
  // Whose raw visits count for which link since it took the address over: they are not written anew.
  `CREATE TABLE link_heir (
    link_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    heir_id BIGINT UNSIGNED NOT NULL,
    KEY link_heir_of (heir_id)
  )`,
  // Raw visits are only added, read by days and dropped by days: no index keeps the shipper waiting.
  `ALTER TABLE visit DROP KEY visit_link, DROP KEY visit_at, DROP KEY visit_missed, DROP KEY visit_mended,
     DROP COLUMN id`,
  'ALTER TABLE visit PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE))',
]

export const name = '0011-visits-by-day'

/** Raw visits partitioned by day without indexes, and what was read by those indexes counted instead. */
export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE visit REMOVE PARTITIONING')
  await run('UPDATE visit v JOIN link_heir h ON h.link_id = v.link_id SET v.link_id = h.heir_id')
  await run(
    `ALTER TABLE visit ADD COLUMN id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY FIRST,
       ADD KEY visit_link (link_id, at), ADD KEY visit_at (at), ADD KEY visit_missed (domain_id, outcome, at),
       ADD KEY visit_mended (domain_id, mended, at)`,
  )
  await run('DROP TABLE link_heir')
  await run('DROP TABLE stray_day')
}
