import { QueryTypes } from 'sequelize'
import { readSearch } from '../../../core/search'
import type { LinkFilters } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { linkWhere, STANDING_SQL, VIEW_SQL } from './link-where'
import { findCandidates } from './search/candidates'

export interface LinkCounts {
  total: number
  domains: { host: string; links: number }[]
  standings: Record<keyof typeof STANDING_SQL, number>
  redirects: { temporary: number; permanent: number }
  targets: { sound: number; doubtful: number; broken: number; unknown: number }
  tags: { name: string; links: number }[]
  owners: { name: string; links: number }[]
  /** Ready-made views: doubtful or broken, ending within 30 days, never visited, on a domain that is not open. */
  views: Record<keyof typeof VIEW_SQL, number>
}

const MAX_TAGS = 30
const MAX_OWNERS = 12
const ENDING_DAYS = 30
const KEEP = 50
/** Candidates of a search that are looked up; with more, all links are read. */
const MAX_LOOKED_UP = 20_000
const remembered = new Map<string, LinkCounts>()

/**
 * How many links each filter would leave, all under the present ones. Remembered for as long as no change was made
 * and the minute lasts (a standing may follow from a date).
 */
export async function countLinks(db: Database, filters: LinkFilters): Promise<LinkCounts> {
  const now = new Date()
  const organisation = await db.Organisation.findByPk(1)
  const key = JSON.stringify([organisation?.revision ?? 0, Math.floor(now.getTime() / 60_000), filters])
  const known = remembered.get(key)
  if (known) return known

  const { sql: matches, replacements } = linkWhere(filters, now)
  const alternatives = readSearch(filters.q ?? '')
  const candidates = alternatives.length > 0 ? await findCandidates(db, alternatives) : undefined
  const isFew = candidates && candidates.size <= MAX_LOOKED_UP
  const sql = isFew ? `${matches} AND l.id IN (:ids)` : matches
  if (isFew) replacements.ids = [0, ...candidates]
  const select = <Row extends object>(text: string) =>
    db.sequelize.query<Row>(text, { replacements, type: QueryTypes.SELECT })
  const standings = Object.entries(STANDING_SQL)
    .map(([name, condition]) => `SUM(${condition}) AS \`${name}\``)
    .join(', ')
  const views = Object.entries(VIEW_SQL)
    .map(([name, condition]) => `SUM(${condition}) AS \`${name}\``)
    .join(', ')
  replacements.endingBy = new Date(now.getTime() + ENDING_DAYS * 86_400_000)
  const [[sums], domains, tags, owners] = await Promise.all([
    select<Record<string, number | null>>(
      `SELECT COUNT(*) AS total, SUM(l.status IN (301, 308)) AS permanent, SUM(l.target_rank = 1) AS sound,
        SUM(l.target_rank = 2) AS doubtful, SUM(l.target_rank = 3) AS broken, ${standings}, ${views}
        FROM link l WHERE ${sql}`,
    ),
    select<{ host: string; links: number }>(
      `SELECT d.host, COUNT(l.id) AS links FROM domain d LEFT JOIN link l ON l.domain_id = d.id AND ${sql} ` +
        'GROUP BY d.id, d.host ORDER BY links DESC, d.host',
    ),
    select<{ name: string; links: number }>(
      `SELECT t.name, COUNT(*) AS links FROM link l JOIN link_tag x ON x.link_id = l.id JOIN tag t ON t.id = x.tag_id
       WHERE ${sql} GROUP BY t.id, t.name ORDER BY links DESC, t.name LIMIT ${MAX_TAGS}`,
    ),
    select<{ name: string; links: number }>(
      `SELECT l.owner AS name, COUNT(*) AS links FROM link l WHERE ${sql} AND l.owner <> '' GROUP BY l.owner
       ORDER BY links DESC, name LIMIT ${MAX_OWNERS}`,
    ),
  ])
  const of = (name: string) => Number(sums?.[name] ?? 0)
  const counts: LinkCounts = {
    total: of('total'),
    domains: domains.map((row) => ({ host: row.host, links: Number(row.links) })),
    standings: {
      live: of('live'),
      scheduled: of('scheduled'),
      paused: of('paused'),
      ended: of('ended'),
      retired: of('retired'),
    },
    redirects: { temporary: of('total') - of('permanent'), permanent: of('permanent') },
    targets: {
      sound: of('sound'),
      doubtful: of('doubtful'),
      broken: of('broken'),
      unknown: of('total') - of('sound') - of('doubtful') - of('broken'),
    },
    tags: tags.map((row) => ({ name: row.name, links: Number(row.links) })),
    owners: owners.map((row) => ({ name: row.name, links: Number(row.links) })),
    views: { faulty: of('faulty'), ending: of('ending'), never: of('never'), waiting: of('waiting') },
  }
  if (remembered.size >= KEEP) remembered.clear()
  remembered.set(key, counts)
  return counts
}
