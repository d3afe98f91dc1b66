import { QueryTypes } from 'sequelize'
import { toWire } from '../../../core/address'
import type { PastRequest } from '../../../core/table'
import type { Database } from '../../database/open'

export interface Period {
  from: Date
  to: Date
}

/** Requests are dealt out to `of` who replay them; this is the share of the `nth`, counted from 0. */
export interface Share {
  nth: number
  of: number
}

const PAGE = 5000

/**
 * The requests of a period, equal ones together: those links were asked for by their days, and one by one those that
 * rules took, that were mended and that found nothing. Robots are left out.
 */
export async function* pastRequests(
  db: Database,
  { from, to }: Period,
  { nth, of }: Share,
): AsyncGenerator<PastRequest[]> {
  const hosts = new Map((await db.Domain.findAll({ attributes: ['id', 'host'] })).map(({ id, host }) => [id, host]))
  const mended = await readMended(db, { from, to })
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ id: number; domain_id: number; canonical: string; visits: string }>(
      `SELECT l.id, l.domain_id, l.canonical, SUM(v.visits) AS visits FROM visit_day v JOIN link l ON l.id = v.link_id
       WHERE l.id > :after AND l.id MOD :of = :nth AND l.canonical IS NOT NULL
         AND v.day >= DATE(:from) AND v.day <= DATE(:to)
       GROUP BY l.id ORDER BY l.id LIMIT ${PAGE}`,
      { replacements: { after, of, nth, from, to }, type: QueryTypes.SELECT },
    )
    if (rows.length === 0) break
    after = Number(rows.at(-1)!.id)
    yield rows.flatMap((row) => {
      const count = Number(row.visits) - (mended.get(Number(row.id)) ?? 0)
      return count > 0 ? [requestOf(hosts, Number(row.domain_id), row.canonical, '', count)] : []
    })
  }
  // What has no link of its own is told path by path.
  const rows = await db.sequelize.query<{ domain_id: number; path: string; language: string; requests: string }>(
    `SELECT domain_id, path, language, SUM(requests) AS requests FROM stray_day
     WHERE day >= DATE(:from) AND day <= DATE(:to) AND CRC32(path) MOD :of = :nth GROUP BY domain_id, path, language`,
    { replacements: { from, to, of, nth }, type: QueryTypes.SELECT },
  )
  for (let at = 0; at < rows.length; at += PAGE)
    yield rows
      .slice(at, at + PAGE)
      .filter(({ domain_id }) => hosts.has(Number(domain_id)))
      .map((row) => requestOf(hosts, Number(row.domain_id), row.path, row.language, Number(row.requests)))
}

const requestOf = (
  hosts: ReadonlyMap<number, string>,
  domainId: number,
  path: string,
  language: string,
  count: number,
): PastRequest => ({ host: hosts.get(domainId)!, target: '/' + toWire(path), language, count })

/** Mended requests by link: they came to another address than the link's own. */
async function readMended(db: Database, { from, to }: Period): Promise<Map<number, number>> {
  const rows = await db.sequelize.query<{ link_id: number; requests: string }>(
    `SELECT link_id, SUM(requests) AS requests FROM stray_day WHERE link_id <> 0 AND day >= DATE(:from)
       AND day <= DATE(:to) GROUP BY link_id`,
    { replacements: { from, to }, type: QueryTypes.SELECT },
  )
  return new Map(rows.map((row) => [Number(row.link_id), Number(row.requests)]))
}

/** How many distinct requests there are to put, roughly: for telling how far a replay is. */
export async function countPastRequests(db: Database, { from, to }: Period): Promise<number> {
  const [row] = await db.sequelize.query<{ links: number; paths: number }>(
    `SELECT (SELECT COUNT(DISTINCT link_id) FROM visit_day WHERE day >= DATE(:from) AND day <= DATE(:to)) AS links,
       (SELECT COUNT(DISTINCT domain_id, path, language) FROM stray_day WHERE day >= DATE(:from) AND day <= DATE(:to))
         AS paths`,
    { replacements: { from, to }, type: QueryTypes.SELECT },
  )
  return Number(row!.links) + Number(row!.paths)
}
