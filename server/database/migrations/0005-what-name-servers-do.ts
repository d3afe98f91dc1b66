import type { QueryInterface } from 'sequelize'

const STEPS = [
  // Until when others may hold an old answer is a moment: how long was known at the change only.
  'ALTER TABLE domain_watch ADD COLUMN held_until DATETIME(3) NULL AFTER changed_at, ADD COLUMN signing ' +
    'VARCHAR(12) NULL',
  `UPDATE domain_watch SET held_until = DATE_ADD(changed_at, INTERVAL old_ttl SECOND) WHERE changed_at IS NOT NULL`,
  'ALTER TABLE domain_watch DROP COLUMN old_ttl',
  'ALTER TABLE update_key ADD COLUMN server_signs BOOLEAN NOT NULL DEFAULT FALSE',
  'ALTER TABLE observation ADD COLUMN had_answered BOOLEAN NOT NULL DEFAULT FALSE',
]

export const name = '0005-what-name-servers-do'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE observation DROP COLUMN had_answered')
  await run('ALTER TABLE update_key DROP COLUMN server_signs')
  await run('ALTER TABLE domain_watch ADD COLUMN old_ttl INT UNSIGNED NOT NULL DEFAULT 0 AFTER changed_at')
  await run(
    `UPDATE domain_watch SET old_ttl = GREATEST(0, TIMESTAMPDIFF(SECOND, changed_at, held_until))
      WHERE changed_at IS NOT NULL AND held_until IS NOT NULL`,
  )
  await run('ALTER TABLE domain_watch DROP COLUMN held_until, DROP COLUMN signing')
}
