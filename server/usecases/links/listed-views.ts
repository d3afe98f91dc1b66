import { QueryTypes, type Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import type { Link } from '../../../core/schemas'
import type { LinkModel } from '../../database/models/link'
import type { Database } from '../../database/open'
import { organisationToday } from '../misses/organisation-day'
import { readTargets, toTargetView } from '../targets/target-view'
import { readTags, toLinkView } from './link-state'

/** Rows as the register shows them: with tags, visits a day, further slugs and the state of the target. */
export async function toListedViews(db: Database, rows: readonly LinkModel[], now: Date): Promise<Link[]> {
  const ids = rows.map((link) => link.id)
  const [tags, daily, domains, forwarding, targets] = await Promise.all([
    readTags(db, ids),
    readDaily(db, ids),
    db.Domain.findAll(),
    readForwarding(db, ids),
    readTargets(
      db,
      rows.map((link) => link.destinationHash),
    ),
  ])
  const byId = new Map(domains.map((domain) => [domain.id, domain]))
  return rows.map((link) => ({
    ...toLinkView(link, byId.get(link.domainId)!, tags.get(link.id)!, now),
    daily: daily.get(link.id)!,
    aliases: forwarding.get(link.id) ?? [],
    target: toTargetView(targets.get(link.destinationHash)),
  }))
}

/** Slugs that forward to links, by link id, those with most visits first. */
export async function readForwarding(
  db: Database,
  linkIds: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, NonNullable<Link['aliases']>>> {
  const forwarding = new Map<number, NonNullable<Link['aliases']>>()
  if (linkIds.length === 0) return forwarding
  const rows = await db.sequelize.query<{
    id: number
    forwards_to: number
    slug: string
    canonical: string | null
    visits_28: number
    host: string
  }>(
    // Most links forward to none, by which the database thinks little of the index.
    'SELECT l.id, l.forwards_to, l.slug, l.canonical, l.visits_28, d.host FROM link l FORCE INDEX (link_forwards) ' +
      'JOIN domain d ON d.id = l.domain_id WHERE l.forwards_to IN (:linkIds) ORDER BY l.visits_28 DESC, l.id',
    { replacements: { linkIds: [...linkIds] }, type: QueryTypes.SELECT, transaction },
  )
  for (const row of rows) {
    const view = {
      id: row.id,
      address: `${showHost(row.host)}/${row.slug}`,
      slug: row.slug,
      same: row.canonical === null,
      visits28: Number(row.visits_28),
    }
    forwarding.set(Number(row.forwards_to), [...(forwarding.get(Number(row.forwards_to)) ?? []), view])
  }
  return forwarding
}

export const DAYS = 28

/** Visits a day over the last 28 days, oldest first, by link id. */
export async function readDaily(db: Database, linkIds: readonly number[], days = DAYS): Promise<Map<number, number[]>> {
  const daily = new Map<number, number[]>(linkIds.map((id) => [id, Array<number>(days).fill(0)]))
  if (linkIds.length === 0) return daily
  const today = await organisationToday(db)
  const rows = await db.sequelize.query<{ link_id: number; ago: number; visits: number }>(
    `SELECT link_id, DATEDIFF(:today, day) AS ago, visits FROM visit_day
     WHERE link_id IN (:linkIds) AND day > DATE_SUB(:today, INTERVAL :days DAY) AND day <= :today`,
    { replacements: { linkIds: [...linkIds], today, days }, type: QueryTypes.SELECT },
  )
  for (const row of rows) daily.get(Number(row.link_id))![days - 1 - Number(row.ago)] = Number(row.visits)
  return daily
}
