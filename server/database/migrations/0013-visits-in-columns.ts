import { QueryTypes, type QueryInterface, type Sequelize } from 'sequelize'
import { deflateRawSync, inflateRawSync } from 'node:zlib'
import { eventsOf, readPart, toPart, writePart, type VisitEvent } from '../../../core/visits'

const STEPS = [
  // Raw visits of a day (UTC), column by column, many in one row; whole days are dropped.
  `CREATE TABLE visit_part (
    day DATE NOT NULL,
    id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
    version INT UNSIGNED NOT NULL DEFAULT 1,
    fresh BOOLEAN NOT NULL DEFAULT TRUE,
    events INT UNSIGNED NOT NULL,
    data LONGBLOB NOT NULL,
    PRIMARY KEY (day, id),
    KEY visit_part_id (id)
  ) PARTITION BY RANGE COLUMNS (day) (PARTITION later VALUES LESS THAN (MAXVALUE))`,
  // What was counted of a day of the organisation's time zone, of how many raw visits of the days (UTC) it lies in.
  `CREATE TABLE traffic_day (
    day DATE NOT NULL PRIMARY KEY,
    zone VARCHAR(64) NOT NULL,
    seen INT UNSIGNED NOT NULL,
    data LONGBLOB NOT NULL
  )`,
  `CREATE TABLE traffic_month (
    month DATE NOT NULL PRIMARY KEY,
    data LONGBLOB NOT NULL
  )`,
  // Quarter-hours in which a gateway was there to count.
  'CREATE TABLE presence (quarter INT UNSIGNED NOT NULL PRIMARY KEY)',
  `ALTER TABLE organisation
    ADD COLUMN visit_days SMALLINT UNSIGNED NOT NULL DEFAULT 90 CHECK (visit_days BETWEEN 2 AND 730),
    ADD COLUMN keep_network BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN honour_gpc BOOLEAN NOT NULL DEFAULT TRUE,
    ADD COLUMN few_people SMALLINT UNSIGNED NOT NULL DEFAULT 5 CHECK (few_people BETWEEN 1 AND 100)`,
  // Who wishes it gets the figures of each week by mail.
  'ALTER TABLE notice_setting ADD COLUMN report BOOLEAN NOT NULL DEFAULT FALSE AFTER quiet_to',
  "ALTER TABLE mail MODIFY kind ENUM('at-once', 'digest', 'change', 'trial', 'report') NOT NULL",
]

export const name = '0013-visits-in-columns'

/** Raw visits in columns, many in a row, from which everything else is counted. */
export async function up({ context }: { context: QueryInterface }): Promise<void> {
  const { sequelize } = context
  for (const sql of STEPS) await sequelize.query(sql)
  for await (const [day, events] of hoursOfVisits(sequelize)) {
    const part = toPart(Date.parse(day) / DAY_MS, events)
    await sequelize.query('INSERT INTO visit_part (day, fresh, events, data) VALUES (?, FALSE, ?, ?)', {
      replacements: [day, part.length, deflateRawSync(writePart(part), { level: 1 })],
    })
  }
  await sequelize.query('DROP TABLE visit')
}

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000

async function* hoursOfVisits(sequelize: Sequelize): AsyncGenerator<[day: string, events: VisitEvent[]]> {
  const days = await sequelize.query<{ day: string }>(
    "SELECT DISTINCT DATE_FORMAT(at, '%Y-%m-%d') AS day FROM visit ORDER BY day",
    { type: QueryTypes.SELECT },
  )
  for (const { day } of days)
    for (let hour = 0; hour < 24; hour++) {
      const from = new Date(Date.parse(day) + hour * HOUR_MS)
      const rows = await sequelize.query<Record<string, string | number | Date | Buffer | null>>(
        'SELECT * FROM visit WHERE at >= ? AND at < ? ORDER BY at',
        { replacements: [from, new Date(from.getTime() + HOUR_MS)], type: QueryTypes.SELECT },
      )
      if (rows.length > 0) yield [day, rows.map(toEvent)]
    }
}

function toEvent(row: Record<string, string | number | Date | Buffer | null>): VisitEvent {
  const text = (column: string) => (row[column] as string | null) ?? ''
  return {
    at: (row.at as Date).getTime(),
    domainId: Number(row.domain_id),
    linkId: Number(row.link_id ?? 0),
    ruleId: Number(row.rule_id ?? 0),
    kind: row.kind as VisitEvent['kind'],
    status: Number(row.status),
    outcome: text('outcome'),
    path: text('path'),
    referrer: text('referrer_host'),
    mended: text('mended'),
    after: '',
    page: '',
    country: text('country'),
    language: text('language'),
    device: text('device'),
    system: text('system'),
    browser: text('browser'),
    visitor: (row.visitor as Buffer | null)?.toString('hex') ?? '',
  }
}

const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin'

export async function down({ context }: { context: QueryInterface }): Promise<void> {
  const { sequelize } = context
  const run = (sql: string) => sequelize.query(sql)
  await run(`CREATE TABLE visit (
    at DATETIME(3) NOT NULL,
    domain_id BIGINT UNSIGNED NOT NULL,
    link_id BIGINT UNSIGNED NULL,
    kind VARCHAR(20) ${EXACT} NOT NULL,
    status SMALLINT UNSIGNED NOT NULL,
    outcome VARCHAR(20) ${EXACT} NOT NULL,
    path VARCHAR(600) ${EXACT} NULL,
    referrer_host VARCHAR(255) ${EXACT} NULL,
    country CHAR(2) ${EXACT} NULL,
    language VARCHAR(8) ${EXACT} NULL,
    device VARCHAR(20) NULL,
    system VARCHAR(40) NULL,
    browser VARCHAR(60) NULL,
    visitor BINARY(16) NULL,
    rule_id BIGINT UNSIGNED NULL,
    mended VARCHAR(20) ${EXACT} NULL
  ) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE))`)
  const parts = await sequelize.query<{ id: number }>('SELECT id FROM visit_part ORDER BY day, id', {
    type: QueryTypes.SELECT,
  })
  for (const { id } of parts) {
    const [row] = await sequelize.query<{ data: Buffer }>('SELECT data FROM visit_part WHERE id = ?', {
      replacements: [id],
      type: QueryTypes.SELECT,
    })
    const events = [...eventsOf(readPart(inflateRawSync(row!.data)))]
    for (let from = 0; from < events.length; from += 500)
      await sequelize.query('INSERT INTO visit VALUES ?', {
        replacements: [
          events
            .slice(from, from + 500)
            .map((event) => [
              new Date(event.at),
              event.domainId,
              event.linkId || null,
              event.kind,
              event.status,
              event.outcome,
              event.path || null,
              event.referrer || null,
              event.country || null,
              event.language || null,
              event.device || null,
              event.system || null,
              event.browser || null,
              event.visitor ? Buffer.from(event.visitor.padEnd(32, '0'), 'hex') : null,
              event.ruleId || null,
              event.mended,
            ]),
        ],
      })
  }
  await run(
    `ALTER TABLE organisation DROP COLUMN visit_days, DROP COLUMN keep_network, DROP COLUMN honour_gpc,
       DROP COLUMN few_people`,
  )
  await run('ALTER TABLE notice_setting DROP COLUMN report')
  await run("DELETE FROM mail WHERE kind = 'report'")
  await run("ALTER TABLE mail MODIFY kind ENUM('at-once', 'digest', 'change', 'trial') NOT NULL")
  for (const table of ['presence', 'traffic_month', 'traffic_day', 'visit_part']) await run(`DROP TABLE ${table}`)
}
