import { createHash } from 'node:crypto'
import { DateTime } from 'luxon'
import mariadb from 'mariadb'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { trafficQuery, TRAFFIC_GROUPS, type TrafficGroup, type TrafficQuery } from '../../core/schemas'
import type { VisitEvent } from '../../core/visits'
import { connectionConfig } from '../../environment/database-url'
import { seeded } from '../../server/database/seed/chance'
import * as visitsInColumns from '../../server/database/migrations/0013-visits-in-columns'
import { answerTraffic } from '../../server/usecases/traffic/answer-traffic'
import { forgetLinkVisits } from '../../server/usecases/traffic/forget-link-visits'
import { rawVisits } from '../../server/usecases/traffic/visit-parts'
import { planOf } from '../../server/usecases/traffic/query-plan'
import { forgetSums, joinSmallParts, rollVisits } from '../../server/usecases/traffic/roll-visits'
import { SecondThread } from '../../server/usecases/traffic/second-thread'
import { VisitStore } from '../../server/usecases/traffic/visit-store'
import { storeBatches } from '../../shipper/batch'
import { countByHand, valuesByHand, type PlainLink } from './count-by-hand'
import { administrator, TestRegister } from './register'

// Each zone sets its clocks within the days of the test: by an hour at midnight, by half an hour, and not at all by
// an offset that ends in 45 minutes (IANA time zone database).
const ZONES = ['America/Santiago', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Europe/Lisbon'] as const
const FIRST = Date.UTC(2026, 2, 20)
const DAYS = 34
const NOW = FIRST + DAYS * 86_400_000 + 40_000_000
const EVENTS = 9000

const random = seeded(20261127)
const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!

let register: TestRegister
let store: VisitStore
let events: VisitEvent[]
const links: PlainLink[] = []

beforeAll(async () => {
  register = await TestRegister.start()
  const createdAt = new Date()
  await register.db.Domain.create({ host: 'rider.example', standing: 'open', createdAt, updatedAt: createdAt })
  for (let n = 0; n < 12; n++) {
    const tags = [...new Set([pick(['season', 'posters', 'night']), pick(['season', 'ferry'])])].slice(n % 3)
    const owner = pick(['', 'Ada', 'Ben'])
    const { id } = await register.link(`t${n}`, `https://www.portansel.example/${n}`, { tags, owner })
    links.push({ id, tags, owner })
  }
  events = Array.from({ length: EVENTS }, () => event())
  // Some people come again at once.
  for (const one of events.slice(0, 400)) events.push({ ...one, at: one.at + Math.floor(random() * 15_000) })
  const connection = await mariadb.createConnection(connectionConfig(register.url))
  const shuffled = [...events].sort(() => random() - 0.5)
  for (let from = 0; from < shuffled.length; from += 700) {
    const batch = { key: `b${from}`, events: shuffled.slice(from, from + 700), cuts: [] }
    await storeBatches(connection, [batch], 'UTC')
    // A batch that comes again counts once.
    expect(await storeBatches(connection, [batch], 'UTC')).toBe(0)
  }
  await connection.end()
  store = new VisitStore(register.db)
})
afterAll(() => register.stop())

const token = (person: string) => createHash('md5').update(person).digest('hex').slice(0, 16)

function event(): VisitEvent {
  const at = FIRST + Math.floor(random() * DAYS * 86_400_000)
  const link = random() < 0.1 ? undefined : pick(links)
  const day = Math.floor(at / 86_400_000)
  return {
    at,
    domainId: pick([1, 1, 1, 2]),
    linkId: link?.id ?? 0,
    ruleId: link ? 0 : 3,
    kind: pick(['visit', 'visit', 'visit', 'visit', 'robot', 'preview', 'page']),
    status: 302,
    outcome: 'redirect',
    path: '',
    referrer: pick(['', '', 'www.google.com', 'news.example', 'ansl.example', 'chat.example', 't.co']),
    mended: '',
    after: '',
    page: '',
    country: pick(['PT', 'ES', '']),
    language: pick(['pt', 'en', 'de']),
    device: pick(['mobile', 'desktop', 'tablet']),
    system: pick(['Android', 'iOS', 'Windows']),
    browser: pick(['Chrome', 'Firefox']),
    channel: pick(['', '', 'p1', 'p2']),
    visitor: random() < 0.05 ? '' : token(`${day} ${Math.floor(random() * 60)}`),
  }
}

const valuesOf = (one: VisitEvent, group: TrafficGroup, zone: string) => valuesByHand(one, group, zone, links)
const byHand = (query: TrafficQuery, zone: string) => countByHand(query, zone, events, links)

function randomQuery(zone: string): TrafficQuery {
  const midnight = (day: number) => DateTime.fromMillis(FIRST, { zone }).startOf('day').plus({ days: day })
  const first = Math.floor(random() * DAYS)
  const last = first + 1 + Math.floor(random() * (DAYS - first + 2))
  const odd = random() < 0.3 ? Math.floor(random() * 40) * 15 : 0
  const filters: Record<string, unknown> = {}
  for (let n = Math.floor(random() * 3); n > 0; n--) {
    const name = pick(TRAFFIC_GROUPS)
    const some = Array.from({ length: random() < 0.7 ? 1 : 2 }, () => valuesOf(pick(events), name, zone)[0] ?? '')
    filters[name] = [...new Set(some)]
  }
  return trafficQuery.parse({
    from: midnight(first).plus({ minutes: odd }).toISO(),
    to: midnight(last).toISO(),
    ...(random() < 0.85 && { by: pick(TRAFFIC_GROUPS) }),
    kind: pick(['visit', 'visit', 'visit', 'robot', 'preview']),
    step: 'day',
    limit: 1000,
    ...filters,
  })
}

async function compare(zone: string, queries: number): Promise<void> {
  for (let n = 0; n < queries; n++) {
    const query = randomQuery(zone)
    const told = await answerTraffic(store, query, { now: NOW })
    const counted = byHand(query, zone)
    const about = JSON.stringify({ zone, query })
    expect([told.total, told.people], about).toEqual([counted.total, counted.people])
    expect(new Map(told.rows.map(({ key, visits, people }) => [key, { visits, people }])), about).toEqual(counted.rows)
    const days = told.series.flatMap(({ at, visits, people }) =>
      visits ? [[DateTime.fromISO(at, { zone }).toISODate(), { visits, people }]] : [],
    )
    expect(new Map(days as never), about).toEqual(counted.days)
    expect(told.complete).toBe(true)
  }
}

const dump = (table: 'traffic_day' | 'traffic_month') =>
  register.db.sequelize.query<{ octets: string }>(
    `SELECT MD5(CONCAT(${table === 'traffic_day' ? 'day, zone, seen' : 'month'}, data)) AS octets
     FROM ${table} ORDER BY 1`,
    { type: QueryTypes.SELECT },
  )

describe('what visits there were', () => {
  it.each(ZONES)('is told as counted by hand, of raw visits and of sums, in %s', async (zone) => {
    await register.db.Organisation.update({ timeZone: zone, fewPeople: 1 }, { where: { id: 1 } })
    await compare(zone, 25)
    await rollVisits(store, { now: NOW })
    await compare(zone, 100)
  })

  it('is compared with as many days from a day of choice, earlier or later, across a change of clocks', async () => {
    await register.db.Organisation.update({ timeZone: 'Europe/Lisbon' }, { where: { id: 1 } })
    const midnight = (day: string) => DateTime.fromISO(day, { zone: 'Europe/Lisbon' }).toISO()!
    const ask = (more: object) => answerTraffic(store, trafficQuery.parse({ by: 'country', ...more }), { now: NOW })
    const week = { from: midnight('2026-04-06'), to: midnight('2026-04-13') }
    for (const [first, last] of [
      // Clocks went forward on 29 March.
      ['2026-03-26', '2026-04-02'],
      ['2026-04-08', '2026-04-15'],
    ] as const) {
      const told = await ask({ ...week, compare: 'own', against: first })
      const alone = await ask({ from: midnight(first), to: midnight(last) })
      expect(alone.total).toBeGreaterThan(0)
      const { from, to, total, people, series } = alone
      expect(told.compared).toEqual({ from, to, total, people, series })
      const before = new Map(alone.rows.map(({ key, visits }) => [key, visits]))
      for (const row of told.rows) expect(row.before).toBe(before.get(row.key) ?? 0)
    }
    await expect(ask({ ...week, compare: 'own' })).rejects.toThrow(/first day of the period to compare with/)
    expect(trafficQuery.safeParse({ ...week, compare: 'own', against: '2026-13-01' }).success).toBe(false)
  })

  it('is the same where a second thread counts every other day', async () => {
    const second = new SecondThread()
    const alone = store
    store = new VisitStore(register.db, second, 0)
    await compare('Europe/Lisbon', 60)
    store = alone
    await second.stop()
  })

  it('is the same after raw visits are put together and days are counted anew, octet for octet', async () => {
    const before = [await dump('traffic_day'), await dump('traffic_month')]
    expect(before[0]!.length).toBeGreaterThan(DAYS - 1)
    expect(before[1]!.length).toBe(1)
    // Whoever listed them before they were put together counts all of them all the same.
    const listed = await store.holdings('UTC', FIRST / 86_400_000, FIRST / 86_400_000 + DAYS)
    expect(await joinSmallParts(register.db)).toBeGreaterThan(DAYS)
    const [day, parts] = [...listed.parts][5]!
    const fresh = new VisitStore(register.db)
    expect((await fresh.view(day, parts)).view.length).toBe(parts.reduce((sum, part) => sum + part.events, 0))
    await forgetSums(register.db)
    expect(await dump('traffic_month')).toEqual([])
    // By a process that knows no word yet, and so numbers them otherwise.
    store = new VisitStore(register.db)
    await rollVisits(store, { now: NOW })
    expect([await dump('traffic_day'), await dump('traffic_month')]).toEqual(before)
    await compare('Europe/Lisbon', 40)
  })

  it('is the same after the release before took it over and gave it back', async () => {
    const whole = trafficQuery.parse({ from: '2026-03-19T00:00:00Z', to: '2026-04-30T00:00:00Z', by: 'referrer' })
    const before = await answerTraffic(store, whole, { now: NOW })
    const context = { context: register.db.sequelize.getQueryInterface() }
    await visitsInColumns.down(context)
    const [{ rows }] = (await register.db.sequelize.query<{ rows: number }>('SELECT COUNT(*) AS `rows` FROM visit', {
      type: QueryTypes.SELECT,
    })) as [{ rows: number }]
    expect(Number(rows)).toBe(events.length)
    await visitsInColumns.up(context)
    store = new VisitStore(register.db)
    expect(await answerTraffic(store, whole, { now: NOW })).toEqual(before)
    // The release before knew no marks of placements, and told all countries apart.
    await register.db.Organisation.update({ fewPeople: 1 }, { where: { id: 1 } })
    events = events.map((one) => ({ ...one, channel: '' }))
    await rollVisits(store, { now: NOW })
  })

  it('takes in what comes late, and counts its day anew', async () => {
    const late: VisitEvent = { ...events[0]!, at: FIRST + 5 * 86_400_000 }
    const connection = await mariadb.createConnection(connectionConfig(register.url))
    await storeBatches(connection, [{ key: 'late', events: [late], cuts: [] }], 'UTC')
    await connection.end()
    events.push(late)
    await compare('Europe/Lisbon', 20)
    expect(await rollVisits(store, { now: NOW })).toBeGreaterThan(0)
    await compare('Europe/Lisbon', 20)
  })

  it('is told from sums when raw visits are forgotten, with from when on combinations are known', async () => {
    const whole = trafficQuery.parse({
      from: '2026-03-19T00:00:00Z',
      to: '2026-04-30T00:00:00Z',
      step: 'day',
      by: 'country',
    })
    const before = await answerTraffic(store, whole, { now: NOW })
    await register.db.sequelize.query("DELETE FROM visit_part WHERE day < '2026-04-10'")
    const after = await answerTraffic(store, whole, { now: NOW })
    expect(after).toEqual(before)
    const combined = await answerTraffic(store, { ...whole, device: ['mobile'] }, { now: NOW })
    expect(combined).toMatchObject({ complete: false, since: '2026-04-10T23:00:00.000Z' })
    const tags = await answerTraffic(store, { ...whole, by: 'tag' }, { now: NOW })
    expect(tags).toMatchObject({ people: null, complete: true })
    expect(tags.rows[0]).toMatchObject({ people: null })
    expect(new Map(tags.rows.map(({ key, visits }) => [key, visits]))).toEqual(
      new Map([...byHand({ ...whole, by: 'tag' }, 'Europe/Lisbon').rows].map(([key, { visits }]) => [key, visits])),
    )
  })

  it('puts countries of too few people together, whatever they are narrowed to', async () => {
    const one = trafficQuery.parse({ from: '2026-04-20T00:00:00Z', to: '2026-04-20T06:00:00Z', by: 'country' })
    const open = await answerTraffic(store, one, { now: NOW })
    const least = Math.min(...open.rows.filter(({ key }) => key !== '').map(({ people }) => people!))
    await register.db.Organisation.update({ fewPeople: least + 1 }, { where: { id: 1 } })
    const told = await answerTraffic(store, one, { now: NOW })
    const hidden = open.rows.filter(({ key, people }) => key !== '' && people! <= least)
    expect(told.rows.map(({ key }) => key)).toContain('(few)')
    for (const { key } of hidden) expect(told.rows.map((row) => row.key)).not.toContain(key)
    const sum = (rows: { visits: number }[]) => rows.reduce((total, { visits }) => total + visits, 0)
    expect(sum(told.rows)).toBe(sum(open.rows))
  })

  it('asks only of days anything is known of, however long the period is', async () => {
    const century = { from: '2000-01-01T00:00:00Z', to: '2160-01-01T00:00:00Z', step: 'month', by: 'link' }
    const listed = await store.holdings('Europe/Lisbon', 10_957, 76_703)
    const plan = planOf(
      listed,
      { from: Date.parse(century.from), to: Date.parse(century.to), step: 'month' },
      { summed: 'link', exact: true },
    )
    expect(plan.months.length + plan.days.length + plan.visitDays.size).toBeLessThan(DAYS + 4)
    const told = await answerTraffic(store, trafficQuery.parse(century), { now: NOW })
    expect(told.total).toBe(byHand(trafficQuery.parse(century), 'Europe/Lisbon').total)
  })

  it('forgets the single visits of a link, and of nothing else; what was counted stays', async () => {
    const { id } = links[0]!
    // Whole days of the calendar, which are answered by their sums.
    const [from, to] = ['2026-04-11T23:00:00Z', '2026-04-19T23:00:00Z']
    const all = trafficQuery.parse({ from, to, by: 'link', step: 'day' })
    const before = await answerTraffic(store, all, { now: NOW })
    const kept = async () => {
      const counts = new Map<number, number>()
      for await (const { linkId } of rawVisits(register.db, new Date(0), new Date(NOW)))
        counts.set(linkId, (counts.get(linkId) ?? 0) + 1)
      return counts
    }
    const were = await kept()
    const { forgotten } = await forgetLinkVisits(register.db, administrator, id)
    expect(forgotten).toBe(were.get(id))
    were.delete(id)
    expect(await kept()).toEqual(were)
    expect((await register.entry('forget-visits')).subjectLabel).toBe('ansl.example/t0')
    expect(await answerTraffic(store, all, { now: NOW })).toEqual(before)
    // What combines things is as complete as before, but for what was forgotten.
    const combined = await answerTraffic(store, { ...all, device: ['mobile'] }, { now: NOW })
    expect(combined.complete).toBe(true)
    expect(combined.rows.map(({ key }) => key)).not.toContain(String(id))
  })
})
