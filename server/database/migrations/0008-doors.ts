import type { QueryInterface } from 'sequelize'

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'
const HASH = `CHAR(64) ${EXACT}`

const STEPS = [
  // A browser holds a random word; here is only its hash.
  `CREATE TABLE session (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    hash ${HASH} NOT NULL,
    member_id BIGINT UNSIGNED NOT NULL,
    -- Whether the second factor was given, where the member has one.
    whole BOOLEAN NOT NULL,
    agent VARCHAR(200) NOT NULL,
    created_at DATETIME(3) NOT NULL,
    seen_at DATETIME(3) NOT NULL,
    -- When whoever sits there last proved who they are.
    confirmed_at DATETIME(3) NOT NULL,
    -- What a passkey must sign next, once.
    challenge VARCHAR(100) ${EXACT} NULL,
    UNIQUE KEY session_hash (hash),
    KEY session_member (member_id),
    CONSTRAINT session_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  `CREATE TABLE passkey (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    member_id BIGINT UNSIGNED NOT NULL,
    name VARCHAR(60) NOT NULL CHECK (name <> ''),
    credential VARCHAR(700) ${EXACT} NOT NULL,
    public_key BLOB NOT NULL,
    counter BIGINT UNSIGNED NOT NULL,
    transports JSON NOT NULL,
    created_at DATETIME(3) NOT NULL,
    used_at DATETIME(3) NULL,
    UNIQUE KEY passkey_credential (credential),
    CONSTRAINT passkey_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  `CREATE TABLE recovery_code (
    member_id BIGINT UNSIGNED NOT NULL,
    hash ${HASH} NOT NULL,
    used_at DATETIME(3) NULL,
    PRIMARY KEY (member_id, hash),
    CONSTRAINT recovery_code_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  // Invitations and resets: who opens the address chooses the password.
  `CREATE TABLE one_time_address (
    hash ${HASH} NOT NULL PRIMARY KEY,
    member_id BIGINT UNSIGNED NOT NULL,
    purpose ENUM('invitation', 'reset') NOT NULL,
    created_at DATETIME(3) NOT NULL,
    expires_at DATETIME(3) NOT NULL,
    used_at DATETIME(3) NULL,
    CONSTRAINT one_time_address_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  `CREATE TABLE door_event (
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
    at DATETIME(3) NOT NULL,
    member_id BIGINT UNSIGNED NOT NULL,
    kind VARCHAR(30) NOT NULL,
    peer VARCHAR(45) NOT NULL,
    agent VARCHAR(200) NOT NULL,
    KEY door_event_member (member_id, id),
    CONSTRAINT door_event_member FOREIGN KEY (member_id) REFERENCES member (id) ON DELETE CASCADE
  )`,
  `ALTER TABLE member
    DROP COLUMN session_epoch,
    ADD COLUMN code_secret VARBINARY(200) NULL AFTER password_hash,
    -- Shown, and not yet confirmed by a code of it.
    ADD COLUMN code_secret_offered VARBINARY(200) NULL AFTER code_secret,
    -- The last time step whose code was taken, so that none is taken twice (RFC 6238 section 5.2).
    ADD COLUMN code_step BIGINT UNSIGNED NOT NULL DEFAULT 0 AFTER code_secret_offered`,
  `ALTER TABLE api_token ADD COLUMN domains JSON NOT NULL DEFAULT '[]' AFTER scope`,
]

export const name = '0008-doors'

export async function up({ context }: { context: QueryInterface }): Promise<void> {
  for (const sql of STEPS) await context.sequelize.query(sql)
}

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const run = (sql: string) => context.sequelize.query(sql)
  await run('ALTER TABLE api_token DROP COLUMN domains')
  await run(
    'ALTER TABLE member DROP COLUMN code_secret, DROP COLUMN code_secret_offered, DROP COLUMN code_step, ' +
      'ADD COLUMN session_epoch INT UNSIGNED NOT NULL DEFAULT 0 AFTER password_hash',
  )
  for (const table of ['door_event', 'one_time_address', 'recovery_code', 'passkey', 'session'])
    await run(`DROP TABLE ${table}`)
}
