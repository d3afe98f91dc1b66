import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

const STEPS = [
  // What a member is told by mail; who has no row is told what fits the role.
  `CREATE TABLE notice_setting (
    member_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    lanes JSON NOT NULL,
    only_mine BOOLEAN NOT NULL,
    min_visits INT UNSIGNED NOT NULL,
    digest ENUM('none', 'daily', 'weekly') NOT NULL,
    digest_hour TINYINT UNSIGNED NOT NULL CHECK (digest_hour < 24),
    digest_weekday TINYINT UNSIGNED NOT NULL CHECK (digest_weekday BETWEEN 1 AND 7),
    at_once BOOLEAN NOT NULL,
    at_once_visits INT UNSIGNED NOT NULL,
    quiet BOOLEAN NOT NULL,
    quiet_from TINYINT UNSIGNED NOT NULL CHECK (quiet_from < 24),
    quiet_to TINYINT UNSIGNED NOT NULL CHECK (quiet_to < 24),
    version INT UNSIGNED NOT NULL DEFAULT 1,
    CONSTRAINT notice_setting_of FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  // Until when a member's digest has told.
  `CREATE TABLE digest_mark (
    member_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
    told_until DATETIME(3) NOT NULL,
    CONSTRAINT digest_mark_of FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  // One cause of one or many cases.
  `CREATE TABLE notice (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    cause VARCHAR(300) ${EXACT} NOT NULL,
    lane VARCHAR(20) ${EXACT} NOT NULL,
    opened_at DATETIME(3) NOT NULL,
    seen_at DATETIME(3) NOT NULL,
    KEY notice_cause (cause, seen_at),
    KEY notice_opened (opened_at)
  )`,
  // Whoever puts cases into notices holds this row.
  'CREATE TABLE notice_turn (id TINYINT UNSIGNED NOT NULL PRIMARY KEY)',
  'INSERT INTO notice_turn VALUES (1)',
  `ALTER TABLE docket_case
    ADD COLUMN notice_id BIGINT UNSIGNED NULL,
    ADD COLUMN noticed_at DATETIME(3) NULL,
    ADD COLUMN settling_told BOOLEAN NOT NULL DEFAULT TRUE,
    ADD KEY case_notice (notice_id),
    ADD KEY case_noticed (state, noticed_at)`,
  // Cases of before are no news.
  'UPDATE docket_case SET noticed_at = UTC_TIMESTAMP(3)',
  `CREATE TABLE mail (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    mark VARCHAR(190) ${EXACT} NOT NULL,
    member_id BIGINT UNSIGNED NULL,
    recipient VARCHAR(254) ${EXACT} NOT NULL,
    recipient_name VARCHAR(120) NOT NULL,
    kind ENUM('at-once', 'digest', 'change', 'trial') NOT NULL,
    subject VARCHAR(300) NOT NULL,
    text MEDIUMTEXT NOT NULL,
    html MEDIUMTEXT NOT NULL,
    notice_id BIGINT UNSIGNED NULL,
    state ENUM('waiting', 'sent', 'dropped', 'failed') NOT NULL DEFAULT 'waiting',
    made_at DATETIME(3) NOT NULL,
    due_at DATETIME(3) NOT NULL,
    tries INT UNSIGNED NOT NULL DEFAULT 0,
    sent_at DATETIME(3) NULL,
    problem VARCHAR(500) NOT NULL DEFAULT '',
    UNIQUE KEY mail_mark (mark),
    KEY mail_due (state, due_at),
    KEY mail_member (member_id, id)
  )`,
  `CREATE TABLE webhook (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    url VARCHAR(2000) NOT NULL CHECK (url <> ''),
    secret_sealed VARBINARY(200) NOT NULL,
    kinds JSON NOT NULL,
    active BOOLEAN NOT NULL DEFAULT TRUE,
    made_by VARCHAR(160) NOT NULL,
    made_at DATETIME(3) NOT NULL,
    failing_since DATETIME(3) NULL,
    problem VARCHAR(500) NOT NULL DEFAULT '',
    ledger_revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
    version INT UNSIGNED NOT NULL DEFAULT 1
  )`,
  `CREATE TABLE webhook_delivery (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    webhook_id BIGINT UNSIGNED NOT NULL,
    message_id VARCHAR(190) ${EXACT} NOT NULL,
    kind VARCHAR(40) ${EXACT} NOT NULL,
    payload MEDIUMTEXT NOT NULL,
    state ENUM('waiting', 'delivered', 'failed') NOT NULL DEFAULT 'waiting',
    made_at DATETIME(3) NOT NULL,
    due_at DATETIME(3) NOT NULL,
    tries INT UNSIGNED NOT NULL DEFAULT 0,
    tried_at DATETIME(3) NULL,
    status SMALLINT UNSIGNED NULL,
    milliseconds INT UNSIGNED NULL,
    problem VARCHAR(500) NOT NULL DEFAULT '',
    UNIQUE KEY delivery_message (webhook_id, message_id),
    KEY delivery_due (state, due_at),
    CONSTRAINT delivery_of FOREIGN KEY (webhook_id) REFERENCES webhook (id) ON DELETE CASCADE
  )`,
  'ALTER TABLE proposal ADD COLUMN told_state VARCHAR(60) NULL',
  "UPDATE proposal SET told_state = CONCAT(state, ' ', version)",
  // Addresses by which a calendar or a feed is read without signing in.
  `CREATE TABLE feed_address (
    member_id BIGINT UNSIGNED NOT NULL,
    kind ENUM('calendar', 'ledger') NOT NULL,
    hash CHAR(64) ${EXACT} NOT NULL,
    made_at DATETIME(3) NOT NULL,
    PRIMARY KEY (member_id, kind),
    UNIQUE KEY feed_hash (hash),
    CONSTRAINT feed_of FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  // Days on which somebody should look at a link: of their own choice, or because something ends on the other side.
  `CREATE TABLE link_date (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    link_id BIGINT UNSIGNED NOT NULL,
    kind ENUM('look-again', 'ends-there') NOT NULL,
    day DATE NOT NULL,
    note VARCHAR(300) NOT NULL DEFAULT '',
    remind_days SMALLINT UNSIGNED NOT NULL DEFAULT 7,
    made_by VARCHAR(160) NOT NULL,
    made_at DATETIME(3) NOT NULL,
    done_at DATETIME(3) NULL,
    KEY link_date_of (link_id),
    KEY link_date_day (done_at, day),
    CONSTRAINT link_date_link FOREIGN KEY (link_id) REFERENCES link (id) ON DELETE CASCADE
  )`,
]

export const name = '0012-notices-and-dates'

/** Mail, webhooks, feeds by secret addresses, and days on which a link wants looking at. */
export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE proposal DROP COLUMN told_state')
  await run(
    `ALTER TABLE docket_case DROP KEY case_notice, DROP KEY case_noticed, DROP COLUMN notice_id,
      DROP COLUMN noticed_at, DROP COLUMN settling_told`,
  )
  for (const table of [
    'link_date',
    'feed_address',
    'webhook_delivery',
    'webhook',
    'mail',
    'notice',
    'notice_turn',
    'digest_mark',
    'notice_setting',
  ])
    await run(`DROP TABLE ${table}`)
}
