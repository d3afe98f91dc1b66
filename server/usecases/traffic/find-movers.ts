import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import type { Movers } from '../../../core/schemas'
import { calendarOf, dayOfText, dayText } from '../../../core/visits'
import { levelsOf } from '../../../core/visits/change-points'
import { Cancelled } from './count-period'
import { zoneOf } from './roll-visits'
import type { VisitStore } from './visit-store'

/** Links with fewer visits in all are too few to tell anything by. */
const FEWEST = 40
const MAX_LINKS = 2000
const MAX_TOLD = 8

/**
 * The links whose visits a day changed most in the last days that are over, and since when: by change points in the
 * series of each (core/visits/change-points).
 */
export async function findMovers(
  { db }: VisitStore,
  days: number,
  { now = Date.now(), cancelled = () => false }: { now?: number; cancelled?(): boolean } = {},
): Promise<Movers> {
  const calendar = calendarOf(await zoneOf(db))
  const end = calendar.dayAt(now)
  const start = end - days
  const rows = await db.sequelize.query<{ link_id: number; day: string; visits: number }>(
    `SELECT v.link_id, DATE_FORMAT(v.day, '%Y-%m-%d') AS day, v.visits FROM visit_day v JOIN (
       SELECT link_id FROM visit_day WHERE day >= :from AND day < :to GROUP BY link_id
       HAVING SUM(visits) >= ${FEWEST} ORDER BY SUM(visits) DESC LIMIT ${MAX_LINKS}) most ON most.link_id = v.link_id
     WHERE v.day >= :from AND v.day < :to`,
    { replacements: { from: dayText(start), to: dayText(end) }, type: QueryTypes.SELECT },
  )
  const series = new Map<number, number[]>()
  for (const row of rows) {
    const link = Number(row.link_id)
    let own = series.get(link)
    if (!own) series.set(link, (own = Array<number>(days).fill(0)))
    own[dayOfText(row.day) - start] = Number(row.visits)
  }
  const found: Omit<Movers['items'][number], 'address' | 'title'>[] = []
  let looked = 0
  for (const [link, counts] of series) {
    const levels = levelsOf(counts, (day) => (start + day + 3) % 7)
    const [before, after] = [levels.at(-2), levels.at(-1)]
    if (before && after)
      found.push({ link, since: dayText(start + after.from), before: before.mean, after: after.mean })
    if (++looked % 50 === 0) await new Promise((resolve) => setImmediate(resolve))
    if (cancelled()) throw new Cancelled('nobody waits for it any more')
  }
  found.sort((a, b) => Math.abs(b.after - b.before) - Math.abs(a.after - a.before))
  const told = found.slice(0, MAX_TOLD)
  const links =
    told.length === 0
      ? []
      : await db.sequelize.query<{ id: number; host: string; slug: string; title: string }>(
          'SELECT l.id, d.host, l.slug, l.title FROM link l JOIN domain d ON d.id = l.domain_id WHERE l.id IN (?)',
          { replacements: [told.map(({ link }) => link)], type: QueryTypes.SELECT },
        )
  const byId = new Map(links.map((link) => [Number(link.id), link]))
  return {
    from: dayText(start),
    to: dayText(end - 1),
    items: told.flatMap((one) => {
      const link = byId.get(one.link)
      return link ? [{ ...one, address: `${showHost(link.host)}/${link.slug}`, title: link.title }] : []
    }),
  }
}
