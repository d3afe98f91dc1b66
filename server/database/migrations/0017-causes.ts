import type { QueryInterface } from 'sequelize'

const STEPS = [
  // Cases of one cause are shown as one; those there are get theirs when they are seen again.
  `ALTER TABLE docket_case ADD COLUMN cause VARCHAR(300) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    ADD KEY docket_case_cause (cause, state)`,
]

export const name = '0017-causes'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  await context.sequelize.query('ALTER TABLE docket_case DROP KEY docket_case_cause, DROP COLUMN cause')
}
