import type { QueryInterface } from 'sequelize'

const STEPS = [
  // Which links contain three neighbouring characters, in blocks of 32,768 links (core/search/id-set.ts).
  `CREATE TABLE search_gram (
    gram VARCHAR(3) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
    block INT UNSIGNED NOT NULL,
    links VARBINARY(4096) NOT NULL,
    PRIMARY KEY (gram, block)
  ) ENGINE=InnoDB`,
  // Computed by the database, so that no code that changes the searched text can forget it.
  `ALTER TABLE link
    ADD COLUMN indexed_crc INT UNSIGNED NULL,
    ADD COLUMN index_behind BOOLEAN AS (indexed_crc IS NULL OR indexed_crc <> CRC32(search_text)) PERSISTENT,
    ADD KEY link_index_behind (index_behind, id)`,
]

export const name = '0018-search-index'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  await context.sequelize.query(
    'ALTER TABLE link DROP KEY link_index_behind, DROP COLUMN index_behind, DROP COLUMN indexed_crc',
  )
  await context.sequelize.query('DROP TABLE search_gram')
}
