import { mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import mariadb, { type Connection } from 'mariadb'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { connectionConfig } from '../../environment/database-url'
import { startMariaDb, type PrivateMariaDb } from '../../scripts/mariadb'
import { freePort } from '../../scripts/ports'
import { migrate } from '../../server/database/migrate'
import { beyondLeast } from '../../server/database/least-rights'
import { openDatabase, type Database } from '../../server/database/open'
import { destroyVisitorKeys, forgetVisits, makeVisitDays } from '../../server/usecases/traffic/visit-days'
import { joinSmallParts } from '../../server/usecases/traffic/roll-visits'
import { rawVisits } from '../../server/usecases/traffic/visit-parts'
import { storeBatches } from '../../shipper/batch'
import type { VisitEvent } from '../../core/visits'

const folder = mkdtempSync(join(tmpdir(), 'fides-house-'))
let server: PrivateMariaDb
let db: Database
let least: Record<'gateway' | 'shipper', Connection>
beforeAll(async () => {
  server = await startMariaDb(join(folder, 'mariadb'), await freePort())
  db = openDatabase(server.url)
  await migrate(db.sequelize)
  await db.Organisation.create({ name: 'Test', timeZone: 'UTC', createdAt: new Date() })
  const urls = await server.letLeastIn()
  least = {
    gateway: await mariadb.createConnection(connectionConfig(urls.gateway)),
    shipper: await mariadb.createConnection(connectionConfig(urls.shipper)),
  }
})
afterAll(async () => {
  await Promise.all(Object.values(least ?? {}).map((connection) => connection.end()))
  await db?.sequelize.close()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const count = async (table: string) =>
  Number(
    (await db.sequelize.query<{ n: number }>(`SELECT COUNT(*) AS n FROM ${table}`, { type: QueryTypes.SELECT }))[0]!.n,
  )
/** Raw visits while something happens after the first is read. */
const rawWhile = async (happens: () => Promise<unknown>): Promise<number> => {
  let count = 0
  for await (const _ of rawVisits(db, new Date(0), new Date(Date.now() + 1000))) if (++count === 1) await happens()
  return count
}
const raw = async (): Promise<VisitEvent[]> => {
  const events: VisitEvent[] = []
  for await (const one of rawVisits(db, new Date(0), new Date(Date.now() + 1000))) events.push(one)
  return events
}
const event = (daysAgo: number): VisitEvent => ({
  at: Date.now() - daysAgo * 86_400_000,
  domainId: 1,
  linkId: 7,
  kind: 'visit',
  status: 302,
  outcome: 'redirect',
  path: 'tab\there \\ and\nlines',
  ruleId: 0,
  mended: '',
  after: '',
  page: '',
  referrer: '',
  country: 'PT',
  language: 'pt',
  device: '',
  system: '',
  browser: '',
  visitor: '00112233445566778899aabbccddeeff',
})

describe('the shipper’s own user', () => {
  it('stores visits as they are, whatever is in them', async () => {
    const cuts = [{ domainId: 1, hour: 1_795_000_000_000 - (1_795_000_000_000 % 3_600_000), requests: 4 }]
    expect(
      await storeBatches(least.shipper, [{ key: 'a', events: [event(0), event(91), event(200)], cuts }], 'UTC'),
    ).toBe(3)
    expect(await storeBatches(least.shipper, [{ key: 'a', events: [event(0)], cuts }], 'UTC')).toBe(0)
    const stored = await raw()
    expect(stored).toHaveLength(3)
    expect(stored.at(-1)).toMatchObject({
      path: 'tab\there \\ and\nlines',
      country: 'PT',
      device: '',
      // Eight octets tell the visitors of a day apart.
      visitor: '0011223344556677',
    })
    expect(await count('miss_cut')).toBe(1)
  })
  it('counts by day what no link took under its own address, robots and the day’s other visits apart', async () => {
    const asked = (path: string, more: Partial<VisitEvent> = {}): VisitEvent => ({
      ...event(0),
      path,
      linkId: 0,
      ...more,
    })
    const events = [
      asked('a', { outcome: 'not-found', kind: 'page', status: 404 }),
      asked('a', { outcome: 'not-found', kind: 'page', status: 404 }),
      asked('a', { outcome: 'not-found', kind: 'robot', status: 404 }),
      asked('b.', { linkId: 7, mended: 'punctuation' }),
      asked('stop/4', { ruleId: 3 }),
      { ...event(0), path: '' },
    ]
    for (const key of ['s1', 's2', 's2']) await storeBatches(least.shipper, [{ key, events, cuts: [] }], 'UTC')
    const rows = await db.sequelize.query(
      "SELECT path, outcome, mended, link_id, rule_id, requests FROM stray_day WHERE path IN ('a', 'b.', 'stop/4') " +
        'ORDER BY path',
      { type: QueryTypes.SELECT },
    )
    expect(rows).toEqual([
      { path: 'a', outcome: 'not-found', mended: '', link_id: 0, rule_id: 0, requests: 4 },
      { path: 'b.', outcome: 'redirect', mended: 'punctuation', link_id: 7, rule_id: 0, requests: 2 },
      { path: 'stop/4', outcome: 'redirect', mended: '', link_id: 0, rule_id: 3, requests: 2 },
    ])
    await db.sequelize.query('DELETE FROM visit_part WHERE id > 3')
  })
  it.each([
    'SELECT * FROM member',
    'SELECT * FROM link',
    'SELECT data FROM visit_part',
    'DELETE FROM visit_part',
    'UPDATE link SET destination = 1',
  ])('may not: %s', (sql) => expect(least.shipper.query(sql)).rejects.toThrow(/denied/))
})

describe('the gateway’s own user', () => {
  it('reads links, rules and the ledger, and agrees on the day’s secret', async () => {
    for (const table of ['domain', 'link', 'rule', 'ledger_entry', 'organisation'])
      await least.gateway.query(`SELECT 1 FROM ${table} LIMIT 1`)
    await least.gateway.query('INSERT IGNORE INTO visitor_key (day, secret) VALUES (UTC_DATE(), ?)', [Buffer.alloc(32)])
  })
  it.each([
    'SELECT * FROM member',
    'SELECT * FROM api_token',
    'UPDATE link SET destination = 1',
    'INSERT INTO visit_part (day) VALUES (CURDATE())',
    'DELETE FROM visitor_key',
  ])('may not: %s', (sql) => expect(least.gateway.query(sql)).rejects.toThrow(/denied/))
})

describe('beyondLeast', () => {
  it.each(['gateway', 'shipper'] as const)('finds nothing beyond in what the %s was given', async (user) => {
    const rows: Record<string, string>[] = await least[user].query('SHOW GRANTS')
    const grants = rows.map((row) => Object.values(row)[0]!)
    expect(grants.length).toBeGreaterThan(5)
    expect(beyondLeast(user, grants)).toEqual([])
  })
  it.each([
    'GRANT ALL PRIVILEGES ON `fides`.* TO `x`@`%`',
    'GRANT SELECT ON `fides`.`member` TO `x`@`%`',
    'GRANT SELECT, DELETE ON `fides`.`link` TO `x`@`%`',
    'GRANT FILE ON *.* TO `x`@`%`',
  ])('finds %s', (grant) => expect(beyondLeast('gateway', [grant])).toEqual([grant]))
})

describe('what is kept', () => {
  const parts = async () =>
    (
      await db.sequelize.query<{ name: string; held: number }>(
        `SELECT partition_name AS name, table_rows AS held FROM information_schema.partitions
         WHERE table_schema = DATABASE() AND table_name = 'visit_part' ORDER BY partition_ordinal_position`,
        { type: QueryTypes.SELECT },
      )
    ).map(({ name }) => name)
  const dayName = (ahead: number) =>
    'd' + new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10).replaceAll('-', '')

  it('lies in a partition of its own by day, from the first visit to a week ahead; those there are stay', async () => {
    const visits = await count('visit_part')
    expect(await parts()).toEqual(['later'])
    await makeVisitDays(db)
    const made = await parts()
    expect([made[0], made.at(-2), made.at(-1), made.length]).toEqual([dayName(-91), dayName(7), 'later', 100])
    await makeVisitDays(db)
    expect(await parts()).toEqual(made)
    expect(await count('visit_part')).toBe(visits)
  })
  it('of visits one by one ends once their day is 90 days past; what was counted goes on', async () => {
    const counted = await count('visit_day')
    expect(await forgetVisits(db, 90)).toBe(1)
    expect((await parts())[0]).toBe(dayName(-90))
    expect(await count('visit_part')).toBe(1)
    expect(await count('visit_day')).toBe(counted)
    expect(await forgetVisits(db, 90)).toBe(0)
  })
  it('is read once, whole, although parts are put together meanwhile', async () => {
    for (let batch = 0; batch < 60; batch++)
      await storeBatches(least.shipper, [{ key: `parts-${batch}`, events: [event(1)], cuts: [] }], 'UTC')
    const before = (await raw()).length
    const parts = await count('visit_part')
    expect(await rawWhile(() => joinSmallParts(db))).toBe(before)
    expect(await count('visit_part')).toBeLessThan(parts)
    await db.sequelize.query('DELETE FROM visit_part WHERE day = DATE_SUB(UTC_DATE(), INTERVAL 1 DAY)')
  })
  it('of a day’s secret ends with the day, by the clock', async () => {
    await db.sequelize.query(
      "INSERT INTO visitor_key (day, secret) VALUES (DATE_SUB(UTC_DATE(), INTERVAL 1 DAY), REPEAT('x', 32))",
    )
    expect(await count('visitor_key')).toBe(2)
    await destroyVisitorKeys(db)
    expect(await count('visitor_key')).toBe(1)
  })
})

describe('the private server', () => {
  it('has its socket in a folder nobody else can open', () => {
    const socket = join(folder, 'mariadb', 'm.sock')
    expect(statSync(socket).isSocket()).toBe(true)
    expect(statSync(join(folder, 'mariadb')).mode & 0o077).toBe(0)
  })
})
