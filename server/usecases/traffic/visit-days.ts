import { DateTime } from 'luxon'
import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'

/** Days have a partition of their own before they come, so that making it moves nothing. */
const AHEAD_DAYS = 7

const MAX_PAST_DAYS = 180

/** Visits are kept one by one so long; their sums by day go on. */
export const VISIT_DAYS = 90

interface Part {
  name: string
  /** The moment its rows come before; none of the last. */
  before: DateTime | undefined
}

async function readParts(db: Database): Promise<Part[]> {
  const rows = await db.sequelize.query<{ name: string; bound: string }>(
    `SELECT partition_name AS name, partition_description AS bound FROM information_schema.partitions
     WHERE table_schema = DATABASE() AND table_name = 'visit_part' ORDER BY partition_ordinal_position`,
    { type: QueryTypes.SELECT },
  )
  return rows.map(({ name, bound }) => ({
    name,
    before: bound === 'MAXVALUE' ? undefined : DateTime.fromISO(bound.replaceAll("'", ''), { zone: 'utc' }),
  }))
}

/**
 * Gives each day (UTC) its own partition of raw visits, from the first visit there is until a week ahead. Days that
 * have one already are left alone; rows that came before their partition did are moved into it. What is older than
 * the first day that has a partition lies in that one.
 */
export async function makeVisitDays(db: Database): Promise<void> {
  const parts = await readParts(db)
  const later = parts.at(-1)!
  const first = parts.at(-2)?.before ?? (await firstDay(db))
  const last = DateTime.utc().startOf('day').plus({ days: AHEAD_DAYS })
  const made: string[] = []
  for (let day = first; day <= last; day = day.plus({ days: 1 })) {
    const bound = day.plus({ days: 1 }).toISODate()!
    made.push(`PARTITION d${day.toFormat('yyyyLLdd')} VALUES LESS THAN ('${bound}')`)
  }
  if (made.length === 0) return
  await db.sequelize.query(
    `ALTER TABLE visit_part REORGANIZE PARTITION ${later.name} INTO
     (${made.join(', ')}, PARTITION ${later.name} VALUES LESS THAN (MAXVALUE))`,
  )
}

/** The day of the first raw visit, at most half a year ago; today where there is none. */
async function firstDay(db: Database): Promise<DateTime> {
  const [row] = await db.sequelize.query<{ day: string | null }>(
    `SELECT DATE_FORMAT(MIN(day), '%Y-%m-%d') AS day FROM visit_part
     WHERE day > DATE_SUB(UTC_DATE(), INTERVAL ? DAY) AND day <= UTC_DATE()`,
    { replacements: [MAX_PAST_DAYS], type: QueryTypes.SELECT },
  )
  return row?.day ? DateTime.fromISO(row.day, { zone: 'utc' }) : DateTime.utc().startOf('day')
}

/**
 * Forgets raw visits of days (UTC) that ended so many days ago, a day's partition at a time; what was counted of them
 * stays. Returns how many partitions went.
 */
export async function forgetVisits(db: Database, days: number): Promise<number> {
  const kept = DateTime.utc().minus({ days })
  const gone = (await readParts(db)).filter(({ before }) => before !== undefined && before <= kept)
  for (const { name } of gone) await db.sequelize.query(`ALTER TABLE visit_part DROP PARTITION ${name}`)
  await db.sequelize.query('DELETE FROM stray_day WHERE day < ?', { replacements: [kept.toISODate()] })
  return gone.length
}

/** Destroys the secrets of days that are over, by the clock, whether or not anybody visits. */
export const destroyVisitorKeys = (db: Database): Promise<unknown> =>
  db.sequelize.query('DELETE FROM visitor_key WHERE day < UTC_DATE()')
