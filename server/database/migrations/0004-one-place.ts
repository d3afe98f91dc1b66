import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

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
]

export const name = '0004-one-place'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('DROP TABLE sign_in_try')
  await run('ALTER TABLE member MODIFY email VARCHAR(254) NOT NULL')
}
