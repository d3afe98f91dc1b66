import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  // Member 0 stands for everybody: a key has no empty column.
  `CREATE TABLE saved_set (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    kind VARCHAR(20) ${EXACT} NOT NULL,
    member_id BIGINT UNSIGNED NOT NULL,
    title VARCHAR(120) ${EXACT} NOT NULL,
    value JSON NOT NULL,
    created_at DATETIME(3) NOT NULL,
    UNIQUE KEY saved_set_title (kind, member_id, title)
  ) ENGINE=InnoDB`,
]

export const name = '0019-saved-sets'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  await context.sequelize.query('DROP TABLE saved_set')
}
