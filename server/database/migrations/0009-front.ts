import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

export const name = '0009-front'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run(
    `ALTER TABLE domain
      ADD COLUMN https_only BOOLEAN NOT NULL DEFAULT FALSE AFTER pages,
      ADD COLUMN hsts_seconds INT UNSIGNED NULL AFTER https_only,
      ADD COLUMN hsts_since DATETIME(3) NULL AFTER hsts_seconds,
      ADD COLUMN issuer_shut_out BOOLEAN NOT NULL DEFAULT FALSE AFTER hsts_since,
      ADD CONSTRAINT domain_hsts CHECK (COALESCE(hsts_seconds, 0) = 0 OR https_only)`,
  )
  // What the front told of certificates, as it happened.
  await run(
    `CREATE TABLE certificate_event (
      id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
      at DATETIME(3) NOT NULL,
      host VARCHAR(253) ${EXACT} NOT NULL,
      kind ENUM('obtaining', 'obtained', 'renewing', 'renewed', 'failed') NOT NULL,
      detail VARCHAR(1000) NOT NULL,
      KEY certificate_event_host (host, id)
    )`,
  )
  // How far the front's log was read.
  await run(
    `CREATE TABLE front_log (
      id TINYINT UNSIGNED NOT NULL PRIMARY KEY CHECK (id = 1),
      inode BIGINT UNSIGNED NOT NULL,
      octets BIGINT UNSIGNED NOT NULL
    )`,
  )
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('DROP TABLE front_log')
  await run('DROP TABLE certificate_event')
  await run('ALTER TABLE domain DROP CONSTRAINT domain_hsts')
  await run(
    `ALTER TABLE domain DROP COLUMN https_only, DROP COLUMN hsts_seconds, DROP COLUMN hsts_since,
      DROP COLUMN issuer_shut_out`,
  )
}
