import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  // An entry about several links keeps each link's part beside its number: an entry about thousands stays small.
  `ALTER TABLE ledger_entry_link
    ADD COLUMN before_state JSON NULL,
    ADD COLUMN after_state JSON NULL`,
  // What an entry did is answered from this moment on, at every gateway at once; at once where there is none.
  `ALTER TABLE ledger_entry
    ADD COLUMN live_at DATETIME(3) NULL AFTER at,
    MODIFY revision BIGINT UNSIGNED NULL,
    ADD KEY ledger_at (at)`,
  // A change to many links, worked out and looked at before it is made.
  `CREATE TABLE proposal (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    state ENUM('computing', 'ready', 'waiting', 'applying', 'applied', 'withdrawn', 'held', 'failed') NOT NULL,
    member_id BIGINT UNSIGNED NULL,
    actor VARCHAR(160) NOT NULL,
    role VARCHAR(20) ${EXACT} NOT NULL,
    selection JSON NOT NULL,
    spec JSON NOT NULL,
    words VARCHAR(600) NOT NULL,
    reason VARCHAR(500) NOT NULL DEFAULT '',
    at DATETIME(3) NULL,
    stops JSON NOT NULL DEFAULT '{}',
    revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
    total INT UNSIGNED NOT NULL DEFAULT 0,
    done INT UNSIGNED NOT NULL DEFAULT 0,
    counts JSON NOT NULL DEFAULT '{}',
    problem VARCHAR(600) NOT NULL DEFAULT '',
    entry_id BIGINT UNSIGNED NULL,
    after_id BIGINT UNSIGNED NULL,
    made_at DATETIME(3) NOT NULL,
    seen_at DATETIME(3) NOT NULL,
    ended_at DATETIME(3) NULL,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    KEY proposal_due (state, at),
    KEY proposal_made (made_at)
  )`,
  `CREATE TABLE proposal_row (
    proposal_id BIGINT UNSIGNED NOT NULL,
    position INT UNSIGNED NOT NULL,
    link_id BIGINT UNSIGNED NOT NULL,
    kind ENUM('change', 'clash', 'unchanged', 'refused') NOT NULL,
    left_out BOOLEAN NOT NULL DEFAULT FALSE,
    address VARCHAR(900) NOT NULL,
    link_version INT UNSIGNED NOT NULL,
    visits_28 INT UNSIGNED NOT NULL DEFAULT 0,
    before_state JSON NULL,
    after_state JSON NULL,
    hash CHAR(64) ${EXACT} NULL,
    why VARCHAR(900) NOT NULL DEFAULT '',
    PRIMARY KEY (proposal_id, position),
    UNIQUE KEY proposal_row_link (proposal_id, link_id),
    KEY proposal_row_kind (proposal_id, kind, position),
    KEY proposal_row_hash (hash),
    CONSTRAINT proposal_row_proposal FOREIGN KEY (proposal_id) REFERENCES proposal (id) ON DELETE CASCADE
  )`,
  // A destination nothing leads to yet is asked while a proposal wants to know.
  'ALTER TABLE target ADD COLUMN wanted_until DATETIME(3) NULL, ADD KEY target_wanted (wanted_until)',
  // Past requests put to two tables.
  `CREATE TABLE replay (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    state ENUM('running', 'done', 'cancelled', 'failed') NOT NULL DEFAULT 'running',
    member_id BIGINT UNSIGNED NULL,
    proposal_id BIGINT UNSIGNED NULL,
    request JSON NOT NULL,
    total INT UNSIGNED NOT NULL DEFAULT 0,
    done INT UNSIGNED NOT NULL DEFAULT 0,
    result JSON NULL,
    problem VARCHAR(600) NOT NULL DEFAULT '',
    asked_at DATETIME(3) NOT NULL,
    seen_at DATETIME(3) NOT NULL,
    ended_at DATETIME(3) NULL,
    KEY replay_proposal (proposal_id),
    KEY replay_asked (asked_at)
  )`,
]

export const name = '0010-changes'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  for (const table of ['replay', 'proposal_row', 'proposal']) await run(`DROP TABLE ${table}`)
  await run('ALTER TABLE target DROP KEY target_wanted, DROP COLUMN wanted_until')
  // What an older release cannot read of an entry about several links goes back into the entry itself.
  await run(
    `UPDATE ledger_entry e JOIN (
       SELECT entry_id, CONCAT('{"links":{', GROUP_CONCAT('"', link_id, '":', before_state), '}}') AS before_state,
         CONCAT('{"links":{', GROUP_CONCAT('"', link_id, '":', after_state), '}}') AS after_state
       FROM ledger_entry_link WHERE after_state IS NOT NULL GROUP BY entry_id) p ON p.entry_id = e.id
     SET e.before_state = p.before_state, e.after_state = p.after_state WHERE JSON_VALID(p.before_state)`,
  )
  await run('ALTER TABLE ledger_entry_link DROP COLUMN before_state, DROP COLUMN after_state')
  await run('DELETE FROM ledger_entry WHERE revision IS NULL')
  await run(
    'ALTER TABLE ledger_entry DROP KEY ledger_at, DROP COLUMN live_at, MODIFY revision BIGINT UNSIGNED NOT NULL',
  )
}
