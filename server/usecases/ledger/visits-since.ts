import { DateTime } from 'luxon'
import { QueryTypes } from 'sequelize'
import type { LedgerEntry } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { organisationDay } from '../misses/organisation-day'

type OrganisationDay = Awaited<ReturnType<typeof organisationDay>>

/** Fields by which visits come to be other ones. */
const TELLING = new Set([
  'destination',
  'status',
  'standing',
  'slug',
  'startsAt',
  'endsAt',
  'endedDestination',
  'pattern',
  'active',
  'query',
])
const DAYS = 7
/** Visits of more links than these are not summed for one line. */
const MAX_LINKS = 5000

const tells = ({ before, after, subject }: LedgerEntry): boolean =>
  subject.kind === 'links' ||
  (before !== null && after !== null && Object.keys({ ...before, ...after }).some((field) => TELLING.has(field)))

const perDay = (visits: number, days: number): string => {
  const value = visits / days
  return value >= 10 ? Math.round(value).toLocaleString('en') : String(Math.round(value * 10) / 10)
}

/**
 * What an entry did to visits: how many a day there were in the week before it, and are in the days since, at most a
 * week; whole days of the organisation's calendar, without that of the entry. `undefined` where no whole day has passed
 * yet or nothing of it concerns visits.
 */
export async function visitsSince(
  db: Database,
  entry: LedgerEntry,
  { timeZone, today }: OrganisationDay,
): Promise<string | undefined> {
  const { kind, id } = entry.subject
  if (!['link', 'links', 'rule'].includes(kind) || !tells(entry)) return undefined
  const day = DateTime.fromISO(entry.at, { zone: timeZone }).startOf('day')
  const last = DateTime.min(day.plus({ days: DAYS }), DateTime.fromISO(today, { zone: timeZone }).minus({ days: 1 }))!
  const days = Math.round(last.diff(day, 'days').days)
  if (days < 1) return undefined
  const [table, column] = kind === 'rule' ? ['rule_day', 'rule_id'] : ['visit_day', 'link_id']
  const links =
    kind === 'links'
      ? (
          await db.sequelize.query<{ link_id: number }>(
            'SELECT link_id FROM ledger_entry_link WHERE entry_id = ? LIMIT ?',
            { replacements: [entry.id, MAX_LINKS + 1], type: QueryTypes.SELECT },
          )
        ).map((row) => Number(row.link_id))
      : [id]
  if (links.length === 0 || links.length > MAX_LINKS) return undefined
  const [row] = await db.sequelize.query<{ before: string | null; since: string | null }>(
    `SELECT SUM(IF(day < :day, visits, 0)) AS \`before\`, SUM(IF(day > :day, visits, 0)) AS since FROM ${table}
     WHERE ${column} IN (:links) AND day >= :first AND day <= :last`,
    {
      replacements: {
        links,
        day: day.toISODate(),
        first: day.minus({ days: DAYS }).toISODate(),
        last: last.toISODate(),
      },
      type: QueryTypes.SELECT,
    },
  )
  const [before, since] = [Number(row?.before ?? 0), Number(row?.since ?? 0)]
  if (before === 0 && since === 0) return undefined
  const span = days === 1 ? 'on the day after' : `in the ${days} days after`
  return `${perDay(since, days)} visits a day ${span}, ${perDay(before, DAYS)} in the ${DAYS} days before.`
}
