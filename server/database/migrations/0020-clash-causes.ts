import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

export const name = '0020-clash-causes'

/** What rows of an import conflict with, so that one decision can serve all rows of one cause. */
export async function up({ context }: { context: QueryInterface }): Promise<void> {
  await context.sequelize.query(
    `ALTER TABLE intake_row ADD COLUMN cause VARCHAR(300) ${EXACT} NOT NULL DEFAULT '' AFTER code`,
  )
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  await context.sequelize.query('ALTER TABLE intake_row DROP COLUMN cause')
}
