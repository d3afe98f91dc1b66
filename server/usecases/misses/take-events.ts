import { QueryTypes, type Transaction } from 'sequelize'
import { isScattered, SCATTER_PATHS, shapeOf } from '../../../core/misses'
import { dayReader } from '../../../core/time/calendar-day'
import type { Database } from '../../database/open'

const MAX_EVENTS = 2000
const MAX_REFERRERS = 50

interface Event {
  id: number
  kind: 'miss' | 'robot' | 'followed' | 'mended'
  at: Date
  domain_id: number
  path: string
  link_id: number | null
  visitor: Buffer | null
  country: string | null
  referrer: string | null
}

/** What one batch adds to one miss's day. */
interface DayCount {
  missId: number
  day: string
  requests: number
  visitors: number
  robots: number
  served: number
}

/**
 * Counts what the gateways stored of misses and takes it out, in one transaction: each request once, each visitor
 * once a
 * day and path. Visitors who prove to look for holes are taken out of the figures again. Gives how many events there
 * were.
 */
export function takeEvents(db: Database, timeZone: string): Promise<number> {
  return db.sequelize.transaction(async (transaction) => {
    const query = <Row extends object>(sql: string, replacements: unknown[] = []) =>
      db.sequelize.query<Row>(sql, { replacements, type: QueryTypes.SELECT, transaction })
    const events = await query<Event>(`SELECT * FROM miss_event ORDER BY id LIMIT ${MAX_EVENTS} FOR UPDATE SKIP LOCKED`)
    if (events.length === 0) return 0
    const run = (sql: string, replacements: unknown[]) => db.sequelize.query(sql, { replacements, transaction })
    const ids = await missIds(db, events, transaction)
    const idOf = (event: Event) => ids.get(`${event.domain_id}/${event.path}`)!
    const dayOf = dayReader(timeZone)

    const counts = new Map<string, DayCount>()
    const countOf = (event: Event): DayCount => {
      const [missId, day] = [idOf(event), dayOf(event.at.getTime())]
      const key = `${missId} ${day}`
      let count = counts.get(key)
      if (!count) counts.set(key, (count = { missId, day, requests: 0, visitors: 0, robots: 0, served: 0 }))
      return count
    }
    const fresh: [day: string, visitor: Buffer, missId: number][] = []
    const seen = new Set<string>()
    const known = await knownVisitors(db, events, idOf, dayOf, transaction)
    for (const event of events) {
      if (event.kind === 'followed') continue
      const count = countOf(event)
      if (event.kind === 'robot') count.robots++
      else if (event.kind === 'mended') count.served++
      else {
        count.requests++
        if (!event.visitor) continue
        const key = `${count.day} ${event.visitor.toString('hex')} ${count.missId}`
        if (known.has(key) || seen.has(key)) continue
        seen.add(key)
        fresh.push([count.day, event.visitor, count.missId])
        count.visitors++
      }
    }
    if (fresh.length > 0) await run('INSERT IGNORE INTO miss_visitor (day, visitor, miss_id) VALUES ?', [fresh])
    const rows = [...counts.values()].sort((a, b) => a.missId - b.missId || a.day.localeCompare(b.day))
    if (rows.length > 0)
      await run(
        `INSERT INTO miss_day (miss_id, day, requests, visitors, robots, served) VALUES ?
         ON DUPLICATE KEY UPDATE requests = requests + VALUES(requests), visitors = visitors + VALUES(visitors),
           robots = robots + VALUES(robots), served = served + VALUES(served)`,
        [rows.map((row) => [row.missId, row.day, row.requests, row.visitors, row.robots, row.served])],
      )
    await tellApart(db, fresh, transaction)
    await noteReferrers(db, events, idOf, transaction)
    await noteWhereAndNext(db, events, idOf, transaction)
    await run('DELETE FROM miss_event WHERE id IN (?)', [events.map(({ id }) => id)])
    return events.length
  })
}

/** The misses of some events by domain and path, made where they are new. */
async function missIds(db: Database, events: readonly Event[], transaction: Transaction): Promise<Map<string, number>> {
  const groups = new Map<string, { domainId: number; path: string; linkId: number | null; first: Date; last: Date }>()
  for (const event of events) {
    const key = `${event.domain_id}/${event.path}`
    const linkId = event.kind === 'miss' || event.kind === 'robot' ? event.link_id : null
    const group = groups.get(key)
    if (!group)
      groups.set(key, { domainId: event.domain_id, path: event.path, linkId, first: event.at, last: event.at })
    else {
      if (event.at < group.first) group.first = event.at
      if (event.at > group.last) group.last = event.at
      group.linkId ??= linkId
    }
  }
  await db.sequelize.query(
    `INSERT INTO miss (domain_id, path, shape, link_id, first_at, last_at) VALUES ?
     ON DUPLICATE KEY UPDATE last_at = GREATEST(last_at, VALUES(last_at)), first_at = LEAST(first_at, VALUES(first_at)),
       link_id = COALESCE(VALUES(link_id), link_id), due = TRUE`,
    {
      replacements: [
        [...groups.values()].map((group) => [
          group.domainId,
          group.path,
          shapeOf(group.path),
          group.linkId,
          group.first,
          group.last,
        ]),
      ],
      transaction,
    },
  )
  const rows = await db.sequelize.query<{ id: number; domain_id: number; path: string }>(
    'SELECT id, domain_id, path FROM miss WHERE (domain_id, path) IN (?)',
    {
      replacements: [[...groups.values()].map((group) => [group.domainId, group.path])],
      type: QueryTypes.SELECT,
      transaction,
    },
  )
  return new Map(rows.map((row) => [`${row.domain_id}/${row.path}`, Number(row.id)]))
}

async function knownVisitors(
  db: Database,
  events: readonly Event[],
  idOf: (event: Event) => number,
  dayOf: (at: number) => string,
  transaction: Transaction,
): Promise<Set<string>> {
  const asked = events.filter((event) => event.kind === 'miss' && event.visitor)
  if (asked.length === 0) return new Set()
  const rows = await db.sequelize.query<{ day: string; visitor: Buffer; miss_id: number }>(
    `SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, visitor, miss_id FROM miss_visitor
     WHERE (day, visitor, miss_id) IN (?)`,
    {
      replacements: [asked.map((event) => [dayOf(event.at.getTime()), event.visitor, idOf(event)])],
      type: QueryTypes.SELECT,
      transaction,
    },
  )
  return new Set(rows.map((row) => `${row.day} ${row.visitor.toString('hex')} ${row.miss_id}`))
}

/** Takes tokens that look for holes out of the figures: what they asked for is no demand. */
async function tellApart(
  db: Database,
  fresh: readonly [day: string, visitor: Buffer, missId: number][],
  transaction: Transaction,
): Promise<void> {
  const tokens = new Map(fresh.map(([day, visitor]) => [`${day} ${visitor.toString('hex')}`, [day, visitor] as const]))
  if (tokens.size === 0) return
  const rows = await db.sequelize.query<{
    day: string
    visitor: Buffer
    miss_id: number
    path: string
    scattered: number
  }>(
    `SELECT DATE_FORMAT(v.day, '%Y-%m-%d') AS day, v.visitor, v.miss_id, m.path, v.scattered FROM miss_visitor v
     JOIN miss m ON m.id = v.miss_id WHERE (v.day, v.visitor) IN (?)`,
    { replacements: [[...tokens.values()]], type: QueryTypes.SELECT, transaction },
  )
  const byToken = new Map<string, typeof rows>()
  for (const row of rows) {
    const key = `${row.day} ${row.visitor.toString('hex')}`
    const there = byToken.get(key)
    if (there) there.push(row)
    else byToken.set(key, [row])
  }
  for (const asked of byToken.values()) {
    if (asked.length < SCATTER_PATHS || !isScattered(asked.map(({ path }) => path))) continue
    const honest = asked.filter(({ scattered }) => !scattered)
    if (honest.length === 0) continue
    const [{ day, visitor }] = honest as [(typeof rows)[number]]
    await db.sequelize.query(
      'UPDATE miss_visitor SET scattered = TRUE WHERE day = ? AND visitor = ? AND miss_id IN (?)',
      { replacements: [day, visitor, honest.map((row) => row.miss_id)], transaction },
    )
    await db.sequelize.query(
      'UPDATE miss_day SET visitors = IF(visitors > 0, visitors - 1, 0) WHERE day = ? AND miss_id IN (?)',
      { replacements: [day, honest.map((row) => row.miss_id)], transaction },
    )
    await db.sequelize.query('UPDATE miss SET due = TRUE WHERE id IN (?)', {
      replacements: [honest.map((row) => row.miss_id)],
      transaction,
    })
  }
}

async function noteReferrers(
  db: Database,
  events: readonly Event[],
  idOf: (event: Event) => number,
  transaction: Transaction,
): Promise<void> {
  const counts = new Map<string, { missId: number; referrer: string; requests: number; last: Date }>()
  for (const event of events) {
    if (event.kind !== 'miss' || !event.referrer) continue
    const missId = idOf(event)
    const key = `${missId} ${event.referrer}`
    const count = counts.get(key)
    if (count) {
      count.requests++
      if (event.at > count.last) count.last = event.at
    } else counts.set(key, { missId, referrer: event.referrer, requests: 1, last: event.at })
  }
  if (counts.size === 0) return
  const there = await db.sequelize.query<{ miss_id: number; pages: number }>(
    'SELECT miss_id, COUNT(*) AS pages FROM miss_referrer WHERE miss_id IN (?) GROUP BY miss_id',
    { replacements: [[...counts.values()].map(({ missId }) => missId)], type: QueryTypes.SELECT, transaction },
  )
  const full = new Set(there.filter(({ pages }) => Number(pages) >= MAX_REFERRERS).map((row) => Number(row.miss_id)))
  for (const { missId, referrer, requests, last } of counts.values()) {
    const replacements = [requests, last, missId, referrer]
    // A miss with more referring pages than anybody would write to keeps those it has.
    if (full.has(missId))
      await db.sequelize.query(
        'UPDATE miss_referrer SET requests = requests + ?, last_at = GREATEST(last_at, ?) WHERE miss_id = ? AND ' +
          'referrer = ?',
        { replacements, transaction },
      )
    else
      await db.sequelize.query(
        `INSERT INTO miss_referrer (requests, last_at, miss_id, referrer) VALUES (?, ?, ?, ?)
         ON DUPLICATE KEY UPDATE requests = requests + VALUES(requests), last_at = GREATEST(last_at, VALUES(last_at))`,
        { replacements, transaction },
      )
  }
}

/** From which countries was asked, and which links visitors found next. */
async function noteWhereAndNext(
  db: Database,
  events: readonly Event[],
  idOf: (event: Event) => number,
  transaction: Transaction,
): Promise<void> {
  const next = events.filter((event) => event.kind === 'followed' && event.link_id)
  const leaders = new Map<number, number>()
  if (next.length > 0)
    for (const row of await db.sequelize.query<{ id: number; leader: number }>(
      'SELECT id, COALESCE(forwards_to, id) AS leader FROM link WHERE id IN (?)',
      { replacements: [next.map((event) => event.link_id)], type: QueryTypes.SELECT, transaction },
    ))
      leaders.set(Number(row.id), Number(row.leader))
  const touched = new Map<number, { countries: string[]; links: number[] }>()
  const of = (id: number) => {
    let one = touched.get(id)
    if (!one) touched.set(id, (one = { countries: [], links: [] }))
    return one
  }
  for (const event of events) {
    if (event.kind === 'miss' && event.country) of(idOf(event)).countries.push(event.country)
    const leader = event.kind === 'followed' && event.link_id ? leaders.get(Number(event.link_id)) : undefined
    if (leader !== undefined) of(idOf(event)).links.push(leader)
  }
  if (touched.size === 0) return
  for (const row of await db.Miss.findAll({
    attributes: ['id', 'countries', 'followed'],
    where: { id: [...touched.keys()] },
    transaction,
  })) {
    const { countries, links } = touched.get(row.id)!
    await db.Miss.update(
      { countries: plus(row.countries, countries), followed: plus(row.followed, links), due: true },
      { where: { id: row.id }, transaction },
    )
  }
}

const plus = (counts: Record<string, number>, more: readonly (string | number)[]): Record<string, number> => {
  const sum = { ...counts }
  for (const one of more) sum[one] = (sum[one] ?? 0) + 1
  return sum
}
