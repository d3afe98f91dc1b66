import { QueryTypes, Transaction } from 'sequelize'
import { addSums, dayOf, dayText, firstDayOf, joinParts, sumDay, writeSums, type Sums } from '../../../core/visits'
import type { Database } from '../../database/open'
import { insertPart, packed, readParts } from './visit-parts'
import { keptOf, utcDaysOf, type VisitStore } from './visit-store'

const DAY_MS = 86_400_000
// Visits of the day go on being stored meanwhile.
const { READ_COMMITTED } = Transaction.ISOLATION_LEVELS
/** A day's raw visits are put together once they lie in more than so many rows. */
const MANY_PARTS = 48
/** Rows beyond so many visits are left as they are. */
const FULL_PART = 100_000
/** While a day goes on only smaller rows than this are put together: in a rush nothing is written twice. */
const SMALL_PART = 5000

/** The time zone of the organisation, by which its days begin and end. */
export async function zoneOf(db: Database): Promise<string> {
  const organisation = await db.Organisation.findByPk(1, { attributes: ['timeZone'] })
  return organisation?.timeZone ?? 'UTC'
}

/** Puts raw visits that lie in many rows of a day together in fewer. Returns how many rows went. */
export async function joinSmallParts(db: Database): Promise<number> {
  const today = dayText(dayOf(Date.now()))
  const crowded = await db.sequelize.query<{ day: string }>(
    `SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day FROM visit_part WHERE events < IF(day < :today, :full, :small)
     GROUP BY day HAVING COUNT(*) > :many OR (day < :today AND COUNT(*) > 1 AND SUM(fresh) > 0) ORDER BY day`,
    {
      replacements: { full: FULL_PART, small: SMALL_PART, many: MANY_PARTS, today },
      type: QueryTypes.SELECT,
    },
  )
  let gone = 0
  for (const { day } of crowded)
    gone += await db.sequelize.transaction({ isolationLevel: READ_COMMITTED }, async (transaction) => {
      const rows = await db.sequelize.query<{ id: number; events: number }>(
        'SELECT id, events FROM visit_part WHERE day = ? AND events < ? ORDER BY id FOR UPDATE',
        { replacements: [day, day < today ? FULL_PART : SMALL_PART], type: QueryTypes.SELECT, transaction },
      )
      const parts = await readParts(
        db,
        day,
        rows.map(({ id }) => Number(id)),
        transaction,
      )
      // Up to full ones, in their order.
      const ids = rows.map(({ id }) => Number(id))
      let batch: number[] = []
      let events = 0
      const flush = async () => {
        if (batch.length > 0)
          await insertPart(
            db,
            day,
            joinParts(
              Date.parse(day) / DAY_MS,
              batch.map((id) => parts.get(id)!),
            ),
            transaction,
          )
        batch = []
        events = 0
      }
      for (const id of ids) {
        batch.push(id)
        events += parts.get(id)!.length
        if (events >= FULL_PART) await flush()
      }
      await flush()
      await db.sequelize.query('DELETE FROM visit_part WHERE day = ? AND id IN (?)', {
        replacements: [day, ids],
        transaction,
      })
      return ids.length
    })
  return gone
}

/**
 * Counts the days of the organisation's calendar that are over and whose sums are missing or do not hold all visits
 * there are by now, and puts months that are over together. The same visits give the same octets, whenever they are
 * counted. Returns how many days were.
 */
export async function rollVisits(
  store: VisitStore,
  { stopping = () => false, now = Date.now() }: { stopping?: () => boolean; now?: number } = {},
): Promise<number> {
  const { db } = store
  const zone = await zoneOf(db)
  const [bounds] = await db.sequelize.query<{ first: string | null }>(
    `SELECT DATE_FORMAT(MIN(day), '%Y-%m-%d') AS first FROM visit_part`,
    { type: QueryTypes.SELECT },
  )
  if (!bounds?.first) return 0
  const first = Date.parse(bounds.first) / DAY_MS - 1
  const today = dayOf(now) + 1
  const { calendar, parts, days, elsewhere } = await store.holdings(zone, first, today)
  const nothing = elsewhere.filter((day) => keptOf(parts, calendar, day) === 0)
  if (nothing.length > 0)
    await db.sequelize.query('DELETE FROM traffic_day WHERE day IN (?)', { replacements: [nothing.map(dayText)] })
  const over = (day: number) => calendar.startOfDay(day + 1) <= now
  let counted = 0
  for (let day = first; day <= today && over(day) && !stopping(); day++) {
    const seen = keptOf(parts, calendar, day)
    if (seen === 0 || days.has(day)) continue
    const views = await Promise.all(
      utcDaysOf(calendar, day).flatMap((utc) => (parts.has(utc) ? [store.view(utc, parts.get(utc)!)] : [])),
    )
    const sums = sumDay(
      calendar,
      day,
      views.map(({ view }) => view),
      store.vocabulary,
    )
    await keepDay(store, day, zone, seen, sums)
    counted++
  }
  await rollMonths(store, zone, now, stopping)
  return counted
}

async function keepDay(store: VisitStore, day: number, zone: string, seen: number, sums: Sums): Promise<void> {
  const data = await packed(writeSums(sums, store.vocabulary))
  await store.db.sequelize.transaction(async (transaction) => {
    await store.db.sequelize.query('REPLACE INTO traffic_day (day, zone, seen, data) VALUES (?, ?, ?, ?)', {
      replacements: [dayText(day), zone, seen, data],
      transaction,
    })
    await store.db.sequelize.query('DELETE FROM traffic_month WHERE month = ?', {
      replacements: [dayText(firstDayOf('month', day))],
      transaction,
    })
  })
}

/** Puts the days of months that are over together, where no month of theirs is kept. */
async function rollMonths(store: VisitStore, zone: string, now: number, stopping: () => boolean): Promise<void> {
  const { db } = store
  const rows = await db.sequelize.query<{ month: string }>(
    `SELECT DISTINCT DATE_FORMAT(day, '%Y-%m-01') AS month FROM traffic_day
     WHERE DATE_FORMAT(day, '%Y-%m-01') NOT IN (SELECT month FROM traffic_month) ORDER BY month`,
    { type: QueryTypes.SELECT },
  )
  for (const { month } of rows) {
    if (stopping()) return
    const start = Date.parse(month) / DAY_MS
    const end = firstDayOf('month', start + 32)
    const { calendar, parts, days } = await store.holdings(zone, start, end - 1)
    if (calendar.startOfDay(end) > now) continue
    const all: Sums[] = []
    let whole = true
    for (let day = start; day < end; day++) {
      const known = days.get(day)
      const sums = known && (await store.sumsOfDay(day, known))
      if (sums) all.push(sums)
      else if (keptOf(parts, calendar, day) > 0) whole = false
    }
    // A day that waits to be counted makes its month wait.
    if (!whole) continue
    await db.sequelize.query('REPLACE INTO traffic_month (month, data) VALUES (?, ?)', {
      replacements: [month, await packed(writeSums(addSums(all, store.vocabulary), store.vocabulary))],
    })
  }
}

/** Has every day whose visits are kept counted anew. */
export async function forgetSums(db: Database): Promise<void> {
  const [bounds] = await db.sequelize.query<{ first: string | null }>(
    `SELECT DATE_FORMAT(MIN(day), '%Y-%m-%d') AS first FROM visit_part`,
    { type: QueryTypes.SELECT },
  )
  if (!bounds?.first) return
  await db.sequelize.query('DELETE FROM traffic_month WHERE month >= ?', {
    replacements: [`${bounds.first.slice(0, 8)}01`],
  })
  // The first day may lie partly in one whose visits are gone.
  await db.sequelize.query('DELETE FROM traffic_day WHERE day > ?', { replacements: [bounds.first] })
}
